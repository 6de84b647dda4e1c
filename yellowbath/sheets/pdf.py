"""HTML to PDF, with the page's own fonts."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

from yellowbath.core.errors import YellowBathError

_FACES = (
    ("Barlow Condensed", 600, "barlow-condensed-latin-600-normal-*.woff2"),
    ("Atkinson Hyperlegible Next", 400, "atkinson-hyperlegible-next-latin-wght-normal-*.woff2"),
)


def pdf(html: str, fonts: Path) -> bytes:
    """A document as PDF; ``fonts`` is the folder in which the built page keeps its own.

    Raises YellowBathError where this computer lacks the library that sets type.
    """
    made: bytes = _set(html, fonts).write_pdf()
    return made


def one_page(html: Callable[[float], str], fonts: Path) -> bytes:
    """A document of one page as PDF, its type made smaller until it fits."""
    for scale in _SCALES:
        document = _set(html(scale), fonts)
        if len(document.pages) == 1:
            break
    made: bytes = document.write_pdf()
    return made


_SCALES = (1.0, 0.94, 0.88, 0.82, 0.76, 0.7)


def _set(html: str, fonts: Path) -> Any:
    try:
        from weasyprint import CSS, HTML
        from weasyprint.text.fonts import FontConfiguration
    except OSError as error:
        raise YellowBathError(
            f"This computer cannot make PDF yet: {error}.",
            remedy="Install Pango (Debian: libpangoft2-1.0-0), or print the card from the page.",
        ) from None
    shipped = {
        found.as_uri(): (family, weight)
        for family, weight, pattern in _FACES
        for found in sorted(fonts.glob(pattern))
    }
    settings, fetch = FontConfiguration(), _only(frozenset(shipped))
    faces = "".join(
        f"@font-face {{ font-family: '{family}'; font-weight: {weight}; src: url('{uri}') }}"
        for uri, (family, weight) in shipped.items()
    )
    sheet = CSS(string=faces, font_config=settings, url_fetcher=fetch)
    document = HTML(string=html, base_url=None, url_fetcher=fetch)
    return document.render(stylesheets=[sheet], font_config=settings)


def _only(shipped: frozenset[str]) -> Any:
    """A fetcher that gives the shipped fonts and nothing else: no file of this machine, no address,
    whatever a sheet asks for."""
    from weasyprint.urls import URLFetcher

    class Fetcher(URLFetcher):  # type: ignore[misc]
        def fetch(self, url: str, headers: Any = None) -> Any:
            if url not in shipped:
                raise ValueError(f"A sheet fetches nothing, and asked for {url}.")
            return super().fetch(url, headers)

    return Fetcher(allowed_protocols=("file",), allow_redirects=False)
