"""Pages written as HTML made into a PDF, with nothing but what ships: no address is ever asked."""

from collections.abc import Callable, Iterable
from typing import Any

from PIL import ImageFile


class NoPdf(RuntimeError):
    """This machine lacks the text library that PDFs are set with (Pango)."""


def from_html(html: str, shipped: Callable[[str], bytes]) -> bytes:
    """Return `html` as a PDF; addresses in it are names of files that ship. `NoPdf` where Pango is missing."""
    return one_page([html], shipped, tagged=False)


def one_page(versions: Iterable[str], shipped: Callable[[str], bytes], tagged: bool = True) -> bytes:
    """Return the first of `versions` (fullest first) that fits on one page, the last one where none does, as a PDF.

    `tagged`: with its structure, for those who have it read aloud. `NoPdf` where Pango is missing.
    """
    try:
        # a second to import, and only when a PDF is wanted; it fails without the system library
        from weasyprint import HTML
        from weasyprint.urls import URLFetcherResponse
    except OSError as error:
        raise NoPdf(str(error)) from error
    # it asks for pictures that are cut off to be taken, everywhere: those that are brought here must be whole
    ImageFile.LOAD_TRUNCATED_IMAGES = False

    def fetch(url: str, *_: Any, **__: Any) -> Any:
        return URLFetcherResponse(url, shipped(url.removeprefix("shipped:")))

    document = None
    for html in versions:
        document = HTML(string=html, base_url="shipped:", url_fetcher=fetch).render()
        if len(document.pages) == 1:
            break
    found = document.write_pdf(pdf_tags=tagged) if document is not None else None
    return bytes(found or b"")
