"""Bodies as closed surfaces cut into elements, by tape or by file.

Files are counted before they are built, mended or refused with the place.
"""
