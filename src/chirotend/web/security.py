"""Headers of every answer: a strict content policy, no framing, no sniffing, nothing kept by shared caches."""

from flask import Flask, Response, request

from chirotend.web import assets

POLICY = "; ".join(
    (
        "default-src 'self'",
        "img-src 'self' data: blob:",
        "media-src 'self' blob:",
        "object-src 'none'",
        "base-uri 'none'",
        "form-action 'self'",
        "frame-ancestors 'none'",
    )
)
#: a page asks the browser for the camera and the microphone, and for nothing else it could give
PERMISSIONS = ", ".join(
    (
        "camera=(self)",
        "microphone=(self)",
        *(f"{name}=()" for name in ("geolocation", "payment", "usb", "serial", "display-capture")),
    )
)
HTTPS_FOR = "max-age=15552000"  # half a year


def init_app(app: Flask) -> None:
    @app.after_request
    def headers(response: Response) -> Response:
        response.headers["Content-Security-Policy"] = POLICY
        response.headers["X-Content-Type-Options"] = "nosniff"
        response.headers["Referrer-Policy"] = "same-origin"
        response.headers["Cross-Origin-Opener-Policy"] = "same-origin"
        response.headers["Permissions-Policy"] = PERMISSIONS
        if request.is_secure:
            response.headers["Strict-Transport-Security"] = HTTPS_FOR
        if request.endpoint != assets.ENDPOINT:
            response.headers["Cache-Control"] = "no-store"
            response.vary.add("HX-Request")
        return response
