"""The pages of technique, a module a probe."""

# importing them puts their addresses on the blueprint
from chirotend.web.pages.technique import awareness, evenness, grips, jobs, posture, pressure, routes, strokes, trace
from chirotend.web.pages.technique.blueprint import bp

__all__ = ["awareness", "bp", "evenness", "grips", "jobs", "posture", "pressure", "routes", "strokes", "trace"]
