"""The pages of technique, a module a probe."""

from chirotend.web.pages.technique import awareness, evenness, grips, jobs, posture, pressure, routes, strokes, trace
from chirotend.web.pages.technique.blueprint import bp

#: importing them puts their addresses on the blueprint
PROBES = (routes, pressure, evenness, posture, trace, strokes, awareness, grips, jobs)
__all__ = ["bp"]
