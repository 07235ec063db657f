#!/usr/bin/env python3
"""Writes how wide the characters of the shipped sans font are, at its regular weight.

Reads the font's own tables with fontTools; --check compares instead of writing. Needs the front end's packages.
Each line is the first code point of a run in hex, a space, and the advance widths in 1/1000 em of that and the following ones.
"""
import glob
import os
import sys

from fontTools.ttLib import TTFont
from fontTools.varLib import instancer

here = os.path.dirname(os.path.abspath(__file__))
root = os.path.join(here, "..", "..", "..", "..")
widths = {}
for path in sorted(glob.glob(os.path.join(root, "web/node_modules/@fontsource-variable/source-sans-3/files/*-wght-normal.woff2"))):
    font = instancer.instantiateVariableFont(TTFont(path), {"wght": 400})
    units = font["head"].unitsPerEm
    for code, glyph in font.getBestCmap().items():
        widths.setdefault(code, round(font["hmtx"][glyph][0] * 1000 / units))
if not widths:
    sys.exit("The font is not there: install the packages of the front end first.")
lines, last = [], None
for code in sorted(widths):
    if last is not None and code == last + 1:
        lines[-1] += f" {widths[code]}"
    else:
        lines.append(f"{code:x} {widths[code]}")
    last = code
text = "\n".join(lines) + "\n"
target = os.path.join(here, "source-sans-3.txt")
if "--check" in sys.argv:
    if open(target, encoding="utf-8").read() != text:
        sys.exit("source-sans-3.txt is not what the font's tables say.")
else:
    open(target, "w", encoding="utf-8").write(text)
    print(f"{len(widths)} characters")
