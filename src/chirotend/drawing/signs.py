"""The signs: note-heads for symptoms, ring, plus and rest for the call, fermata, rests. Shape is the meaning."""

from chirotend.drawing.shapes import Shape, circle, line, path, rect


def sign_radius(intensity: float, scale: float = 1.0) -> float:
    """Return the radius of a note-head for an intensity 0-10, in viewBox units."""
    return (3.4 + 0.52 * intensity) * scale


def symptom(kind: str, x: float, y: float, r: float) -> list[Shape]:
    """Return the note-head of `kind` (pain, tension, tingling, numbness, weakness, stiffness) about (x, y)."""
    match kind:
        case "pain":
            return [
                Shape(
                    "ellipse",
                    {
                        "cx": round(x, 2),
                        "cy": round(y, 2),
                        "rx": round(r * 1.28, 2),
                        "ry": round(r * 0.92, 2),
                        "transform": f"rotate(-20 {x:.2f} {y:.2f})",
                        "class": "sg-fill",
                    },
                )
            ]
        case "tension":
            a, b = r * 1.25, r * 1.12
            return [
                path(f"M{x - a:.1f} {y:.1f}L{x:.1f} {y - b:.1f}L{x + a:.1f} {y:.1f}L{x:.1f} {y + b:.1f}Z", "sg-hollow")
            ]
        case "tingling":
            return [path(_cross(x, y, r * 0.88), "sg-cross")]
        case "numbness":
            return [circle(x, y, r * 1.12, "sg-hollow"), path(_cross(x, y, r * 0.62), "sg-cross")]
        case "weakness":
            return [path(f"M{x - r * 1.08:.1f} {y - r * 0.85:.1f}H{x + r * 1.08:.1f}L{x:.1f} {y + r:.1f}Z", "sg-fill")]
        case "stiffness":
            return [rect(x - r * 0.9, y - r * 0.9, r * 1.8, r * 1.8, "sg-hollow")]
    raise KeyError(kind)


def _cross(x: float, y: float, a: float) -> str:
    return f"M{x - a:.1f} {y - a:.1f}L{x + a:.1f} {y + a:.1f}M{x + a:.1f} {y - a:.1f}L{x - a:.1f} {y + a:.1f}"


def call(name: str, x: float, y: float, r: float) -> list[Shape]:
    """Return the sign of a call: ring (open), upright plus (muted), rest with end strokes (tacet); nothing else."""
    if name == "open":
        return [circle(x, y, r, "call-line")]
    if name.startswith("muted"):
        return [path(f"M{x - r:.1f} {y:.1f}H{x + r:.1f}M{x:.1f} {y - r:.1f}V{y + r:.1f}", "call-line")]
    if name == "tacet":
        w = r * 1.5
        return [
            line(x - w, y - r, x - w, y + r, "call-stroke"),
            line(x + w, y - r, x + w, y + r, "call-stroke"),
            rect(x - w, y - r * 0.36, 2 * w, r * 0.72, "ink-fill"),
        ]
    return []


def fermata(x: float, y: float, w: float = 10.5) -> list[Shape]:
    a, h = w - 0.9, w * 0.92
    return [
        path(
            f"M{x - w:.1f} {y:.1f}A{w} {h:.1f} 0 0 1 {x + w:.1f} {y:.1f}L{x + a:.1f} {y:.1f}"
            f"A{a:.1f} {h - 3.2:.1f} 0 0 0 {x - a:.1f} {y:.1f}Z",
            "ink-fill",
        ),
        circle(x, y - 1.8, max(1.7, w * 0.16), "ink-fill"),
    ]


def long_rest(x: float, width: float, y: float, h: float = 22, thick: float = 8) -> list[Shape]:
    """Return a multi-bar rest from x to x + width about y."""
    return [
        line(x, y - h / 2, x, y + h / 2, "stem"),
        line(x + width, y - h / 2, x + width, y + h / 2, "stem"),
        rect(x, y - thick / 2, width, thick, "ink-fill"),
    ]
