"""The fonts' first parts, from the packages that hold them whole: ``web/src/fonts``.

``.venv/bin/python web/tools/fonts.py`` after a font's package has changed. What a page of ours says
is in the first part; a name with other letters brings the rest (fonts.css names both ranges).
"""

from __future__ import annotations

from pathlib import Path

from fontTools import subset
from fontTools.ttLib import TTFont
from fontTools.varLib.instancer import instantiateVariableFont

WEB = Path(__file__).parents[1]
OUT = WEB / "src" / "fonts"
FIRST = [
    *range(0x20, 0x7F), 0xA0, 0xA3, 0xB0, 0xB1, 0xB2, 0xB3, 0xB5, 0xB7, 0xBC, 0xBD, 0xBE, 0xD7,
    0x2013, 0x2014, 0x2018, 0x2019, 0x201C, 0x201D, 0x2026, 0x2032, 0x2033, 0x20AC, 0x2212,
]  # fmt: skip
PACKAGES = WEB / "node_modules"
TEXT = "@fontsource-variable/atkinson-hyperlegible-next/files/atkinson-hyperlegible-next"
SIGN = "@fontsource/barlow-condensed/files/barlow-condensed"
FILES = {
    "text": f"{TEXT}-latin-wght-normal.woff2",
    **{f"sign-{w}": f"{SIGN}-latin-{w}-normal.woff2" for w in (500, 600, 700)},
}
WEIGHTS = (400, 700)  # of the text's, that a page sets


def first_part(name: str, source: str) -> None:
    """Write one font's first part."""
    font = TTFont(PACKAGES / source)
    if "fvar" in font:
        font = instantiateVariableFont(font, {"wght": WEIGHTS})
    options = subset.Options(
        flavor="woff2", hinting=False, layout_features=["kern", "tnum", "lnum", "liga"]
    )
    cutter = subset.Subsetter(options)
    cutter.populate(unicodes=FIRST)
    cutter.subset(font)
    font.flavor = "woff2"
    font.save(OUT / f"{name}.woff2")


if __name__ == "__main__":
    OUT.mkdir(exist_ok=True)
    for name, source in FILES.items():
        first_part(name, source)
