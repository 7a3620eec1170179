"""The pages of technique, a module a probe."""

# importing them puts their addresses on the blueprint
from chirotend.web.pages.technique import (
    activities,
    awareness,
    evenness,
    grips,
    jobs,
    posture,
    pressure,
    ranges,
    routes,
    strokes,
    trace,
    wrists,
)
from chirotend.web.pages.technique.blueprint import bp

__all__ = [
    "activities",
    "awareness",
    "bp",
    "evenness",
    "grips",
    "jobs",
    "posture",
    "pressure",
    "ranges",
    "routes",
    "strokes",
    "trace",
    "wrists",
]
