"""The type of plates: static instances of our two faces, in two weights, for figures that carry their font along.

python scripts/fonts.py FOLDER: writes sans-400.ttf, sans-600.ttf, serif-400.ttf, serif-600.ttf, made from the variable
fonts of the interface, their Latin, extended Latin and Greek parts put together. What these lack (signs of mathematics,
and Greek in the serif) comes from faces that have it.
"""

import sys
import tempfile
from pathlib import Path

from fontTools import subset
from fontTools.merge import Merger, Options
from fontTools.ttLib import TTFont
from fontTools.ttLib.scaleUpem import scale_upem
from fontTools.varLib.instancer import instantiateVariableFont

MODULES = Path(__file__).parent.parent / "web" / "node_modules"
PACKAGES = MODULES / "@fontsource-variable"
SIGNS = {
    400: MODULES / "dejavu-fonts-ttf/ttf/DejaVuSans.ttf",
    600: MODULES / "dejavu-fonts-ttf/ttf/DejaVuSans-Bold.ttf",
}
WANTED = "≤≥√≈≠≡∞→←↑↓∂∫∝∈∅‡∑∏∇⊥∥⟨⟩"
FACES = {
    "sans": ("Heron Sans", "source-sans-3", "source-sans-3-{}-wght-normal.woff2", ("latin", "latin-ext", "greek")),
    "serif": ("Heron Serif", "newsreader", "newsreader-{}-opsz-normal.woff2", ("latin", "latin-ext")),
}
PLACES = {"wght": 400, "opsz": 12}
# Letters stand by their widths alone, so that they stand the same on the page, in a picture and in print.
LAYOUT = ("GPOS", "GSUB", "GDEF", "STAT", "DSIG", "HVAR", "MVAR", "FFTM", "gasp", "fpgm", "prep", "cvt ")


def part(path: Path, weight: int, folder: str) -> str:
    """One part of a face at a weight, as a file."""
    font = TTFont(path)
    axes = {axis.axisTag for axis in font["fvar"].axes}
    font = instantiateVariableFont(font, {name: at for name, at in (PLACES | {"wght": weight}).items() if name in axes})
    for tag in LAYOUT:
        if tag in font:
            del font[tag]
    font.flavor = None
    out = str(Path(folder) / f"{path.stem}-{weight}.ttf")
    font.save(out)
    return out


def borrowed(path: Path, own: list[str], signs: str, folder: str) -> str | None:
    """The signs that a face lacks, from another, on the same measure; None where nothing is lacking."""
    there = {code for each in own for code in TTFont(each).getBestCmap()}
    font = TTFont(path)
    lacking = [ord(sign) for sign in signs if ord(sign) not in there and ord(sign) in font.getBestCmap()]
    if not lacking:
        return None
    cutter = subset.Subsetter(subset.Options(drop_tables=list(LAYOUT), hinting=False, notdef_outline=True))
    cutter.populate(unicodes=lacking)
    cutter.subset(font)
    scale_upem(font, TTFont(own[0])["head"].unitsPerEm)
    for tag in LAYOUT:
        if tag in font:
            del font[tag]
    out = str(Path(folder) / f"borrowed-{path.stem}.ttf")
    font.save(out)
    return out


GREEK = "".join(map(chr, range(0x391, 0x3CA)))


def main(out: Path) -> None:
    out.mkdir(parents=True, exist_ok=True)
    for face, (name, package, pattern, subsets) in FACES.items():
        for weight in (400, 600):
            with tempfile.TemporaryDirectory() as folder:
                files = [
                    part(PACKAGES / package / "files" / pattern.format(subset), weight, folder) for subset in subsets
                ]
                for source, signs in ((out / f"sans-{weight}.ttf", GREEK), (SIGNS[weight], WANTED)):
                    more = borrowed(source, files, signs, folder) if source.exists() else None
                    files += [more] if more else []
                font = Merger(Options(drop_tables=list(LAYOUT))).merge(files)
            for table in font["cmap"].tables:  # narrow spaces that do not break
                table.cmap.setdefault(0x2009, table.cmap.get(0x20))
                table.cmap.setdefault(0x202F, table.cmap.get(0x2009))
            style = "Regular" if weight == 400 else "SemiBold"
            for record in font["name"].names:
                full, short = f"{name} {style}", f"{name.replace(' ', '')}-{style}"
                said = {1: full, 2: "Regular", 3: short, 4: full, 6: short}
                if record.nameID in said:
                    record.string = said[record.nameID]
            font["OS/2"].usWeightClass = weight
            font.save(out / f"{face}-{weight}.ttf")


if __name__ == "__main__":
    main(Path(sys.argv[1]))
