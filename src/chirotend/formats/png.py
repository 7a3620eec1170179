"""A page of a PDF as a picture, for those who paste it somewhere."""

import io

#: no picture is wider or higher
SIDE_MAX = 12_000


def of_page(data: bytes, points: float) -> bytes:
    """Return the first page of a PDF as PNG, `points` picture points to each of its CSS pixels (at 96 to the inch)."""
    import pypdfium2  # only when a picture is wanted

    document = pypdfium2.PdfDocument(data)
    try:
        page = document[0]
        scale = points * 96 / 72
        scale = min(scale, SIDE_MAX / max(page.get_width(), page.get_height()))
        out = io.BytesIO()
        page.render(scale=scale).to_pil().convert("RGB").save(out, "PNG", optimize=True)
        return out.getvalue()
    finally:
        document.close()
