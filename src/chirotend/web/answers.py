"""Answers that are no page."""

from flask import Response


def download(data: bytes, kind: str, name: str) -> Response:
    """Answer with a file to keep."""
    return Response(data, mimetype=kind, headers={"Content-Disposition": f'attachment; filename="{name}"'})
