"""What leaves a plate is what stands on the page: in vectors, in pixels, in words and numbers."""

import csv
import io
import json
import re
import subprocess
import tempfile
import xml.etree.ElementTree as ET
import zipfile
from pathlib import Path

import numpy as np
from heron import groups
from heron.figure import styles
from PIL import Image
from playwright.sync_api import expect

from e2e.plating import PlateCase
from e2e.test_plates import LENGTH, TRAYS
from server.plates.documents import PlateDocument
from server.server_tests.cases import stored_in

SVG = "{http://www.w3.org/2000/svg}"


class Leaving(PlateCase):
    def setUp(self) -> None:
        super().setUp()
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def take(self, label: str) -> Path:
        dialog = self.page.get_by_role("dialog", name="Download")
        if dialog.count() == 0:
            self.button("Download…").click()
        with self.page.expect_download(timeout=60_000) as download:
            dialog.get_by_role("button", name=label, exact=True).click()
        path = self.folder / download.value.suggested_filename
        download.value.save_as(path)
        expect(dialog.get_by_role("button", name=label, exact=True)).to_be_enabled()
        return path

    def rendered(self, pdf: Path, dpi: int) -> np.ndarray:
        """The one page of a PDF as another program draws it."""
        subprocess.run(["pdftoppm", "-r", str(dpi), "-png", "-singlefile", pdf, pdf.with_suffix("")], check=True)
        return self.pixels(pdf.with_suffix(".png"))

    def pixels(self, file: Path | bytes, size: tuple[int, int] | None = None) -> np.ndarray:
        with Image.open(io.BytesIO(file) if isinstance(file, bytes) else file) as read:
            picture = read.convert("RGB")
            return np.asarray(picture.resize(size, Image.Resampling.LANCZOS) if size else picture, dtype=float)

    def assert_alike(self, one: np.ndarray, other: np.ndarray, most: float = 4.0, least: float = 0.8) -> None:
        """Two pictures of one figure: what differs is how edges are smoothed."""
        self.assertEqual(one.shape, other.shape)
        self.assertLess(np.abs(one - other).mean(), most)
        ink, same = (each.mean(axis=2) < 200 for each in (one, other))
        self.assertGreater((ink & same).sum() / max((ink | same).sum(), 1), least)
        self.assertGreater(ink.mean(), 0.01)

    def test_pdf_and_png_are_the_page(self):
        drawn = {"marks": ["points", "violin", "box", "centre", "joined"], "violin": "half"}
        furniture = [
            {"kind": "line", "at": 50, "text": "limit, 50 mm^{2}"},
            {"kind": "band", "at": 60, "to": 70},
            {"kind": "note", "x": 0.2, "y": 92, "text": "β_{1} ≥ 2", "arrow_x": 0, "arrow_y": 80},
            {"kind": "slip", "x": 0.55, "y": 0.02, "names": ["mean, slotted", "n, mesh"]},
        ]
        panel = {"source": self.groups(**drawn), "furniture": furniture}
        style = {**styles.ON_SCREEN, "hatches": True, "gridlines": True}
        for font in ("sans", "serif"):
            self.open_plate(
                panel, style={**style, "font": font}, sheet={"width": 85, "height": 70}, name=f"Trays {font}"
            )
            self.page.get_by_role("button", name=re.compile("^Zoom:")).click()
            self.page.get_by_role("option", name="200 %").click()
            expect(self.sheet).to_have_attribute("width", re.compile("^642"))
            size = (1004, 827)
            pdf = self.take("PDF")
            listed = subprocess.run(["pdffonts", pdf], check=True, capture_output=True, text=True).stdout.splitlines()[
                2:
            ]
            self.assertTrue(listed)
            for line in listed:
                self.assertTrue(line.startswith(f"Heron {font.capitalize()}"), line)
                self.assertRegex(line, r"TrueType\s+\S+\s+yes")
            info = subprocess.run(["pdfinfo", pdf], check=True, capture_output=True, text=True).stdout
            width, height = map(float, re.search(r"Page size:\s+([\d.]+) x ([\d.]+) pts", info).groups())
            self.assertAlmostEqual(width * 25.4 / 72, 85, delta=0.02)
            self.assertAlmostEqual(height * 25.4 / 72, 70, delta=0.02)
            self.assertIn(f"Trays {font}", info)
            words = subprocess.run(
                ["pdftotext", "-layout", pdf, "-"], check=True, capture_output=True, text=True
            ).stdout
            for part in ("basket", "n = 135", "limit, 50 mm", "mean, slotted"):
                self.assertIn(part, words)
            file = self.take("PNG")
            png = self.pixels(file)
            self.assertEqual(png.shape, (size[1], size[0], 3))
            density = self.page.get_by_role("group", name="Dots per inch")
            density.get_by_role("button", name="150 dpi").click()
            with Image.open(self.take("TIFF")) as read:
                self.assertEqual([round(float(each)) for each in read.info["dpi"]], [150, 150])
                self.assertEqual(read.size, (round(85 / 25.4 * 150), round(70 / 25.4 * 150)))
            density.get_by_role("button", name="300 dpi").click()
            self.assert_alike(self.rendered(pdf, 300), png)
            self.page.keyboard.press("Escape")
            expect(self.page.get_by_role("dialog")).to_have_count(0)

            def as_on_the_page(file=file):
                shown = self.pixels(self.sheet.screenshot())
                self.assert_alike(shown, self.pixels(file, shown.shape[1::-1]), most=6.0, least=0.65)

            self.soon(as_on_the_page)

    def test_svg_carries_its_type_or_needs_none(self):
        self.open_plate(self.pair(by="tray_type", lines=["smooth"]), name="Mass on length")
        root = ET.parse(self.take("SVG")).getroot()
        self.assertEqual((root.get("width"), root.get("height")), ("85mm", "70mm"))
        self.assertEqual(root.find(f"{SVG}title").text, "Mass on length")
        self.assertIn("Shell mass (g) on shell length (mm)", root.find(f"{SVG}desc").text)
        style = "".join(each.text or "" for each in root.iter(f"{SVG}style"))
        self.assertEqual(style.count("@font-face"), 2)
        self.assertIn("base64,", style)
        texts = {each.text for each in root.iter(f"{SVG}text")}
        self.assertTrue({"Shell length (mm)", "mesh", "40"} <= texts)
        names = {name.split("}")[-1] for each in root.iter() for name in each.attrib}
        self.assertFalse(
            [name for name in names if name.startswith(("data-", "aria-", "on")) or name in ("class", "style")]
        )
        outlined = ET.parse(self.take("SVG, letters as outlines")).getroot()
        self.assertEqual((list(outlined.iter(f"{SVG}text")), list(outlined.iter(f"{SVG}style"))), ([], []))
        # Both are drawn alike.
        pictures = []
        for file in (self.folder / "mass-on-length.svg", self.folder / "mass-on-length-outlines.svg"):
            viewer = self.context.new_page()
            viewer.goto(f"file://{file}")
            pictures.append(self.pixels(viewer.screenshot(clip={"x": 0, "y": 0, "width": 320, "height": 264})))
            viewer.close()
        self.assert_alike(*pictures, most=2.0)

    def test_all_of_it_in_one_zip_with_words_data_and_specification(self):
        plate = self.open_plate(caption={"text": "Lengths of oysters, n = 411.", "written": "x"})
        with zipfile.ZipFile(self.take("All of it, as one zip")) as read:
            files = {name: read.read(name) for name in read.namelist()}
        ends = {".svg", ".pdf", ".png", ".tiff", ".md", "-alternative.txt", "-data.csv", ".json"}
        self.assertEqual(set(files), {f"lengths{end}" for end in ends} | {"plate.schema.json"})
        self.assertEqual(files["lengths.md"].decode(), "# Lengths\n\nLengths of oysters, n = 411.\n")
        self.assertIn("Across: Tray type: basket, mesh, slotted.", files["lengths-alternative.txt"].decode())
        lines = list(csv.DictReader(io.StringIO(files["lengths-data.csv"].decode())))
        labels = [TRAYS.levels[code] if code >= 0 else None for code in TRAYS.codes]
        for group in groups.group_centres(LENGTH, labels, centre="mean", bars="sd").groups:
            bar = next(line for line in lines if line["mark"] == "bars" and line["series"] == group.label)
            self.assertEqual((bar["x"], float(bar["y"]), float(bar["low"])), (group.label, group.centre, group.low))
        said = json.loads(files["lengths.json"])
        self.assertEqual(said.pop("$schema"), "plate.schema.json")
        again = PlateDocument.model_validate(said).model_dump(mode="json")
        self.assertEqual(again["panels"], self.document(plate)["panels"])
        self.assertEqual(again["caption"]["text"], "Lengths of oysters, n = 411.")
        self.assertEqual(json.loads(files["plate.schema.json"])["title"], "PlateDocument")

    def test_the_clipboard_takes_the_picture_and_the_caption(self):
        self.context.grant_permissions(["clipboard-read", "clipboard-write"])
        self.open_plate()
        self.button("Download…").click()
        read = """async () => {
          const [item] = await navigator.clipboard.read();
          const read = async (type) => [type, (await (await item.getType(type)).text()).slice(0, 4e5)];
          return Promise.all(item.types.map(read));
        }"""
        self.button("Copy with caption").click()
        dialog = self.page.get_by_role("dialog", name="Download")
        expect(dialog.get_by_role("status")).to_contain_text("Picture and caption")
        kept = dict(self.page.evaluate(read))
        self.assertIn("Shell length (mm) by tray type.", kept["text/plain"])
        self.assertIn("<figcaption", kept["text/html"])
        self.assertIn("data:image/png;base64,", kept["text/html"])
        self.button("Copy the picture").click()
        expect(dialog.get_by_role("status")).to_contain_text("The picture is on the clipboard.")
        self.assertIn("image/png", dict(self.page.evaluate(read)))

    def test_many_points_and_odd_names_leave_too(self):
        rng = np.random.default_rng(5)
        x, y = rng.normal(size=20_000), rng.normal(size=20_000)
        lines = "\n".join(f"{a:.4f},{b:.4f},{'pq'[i % 2]}" for i, (a, b) in enumerate(zip(x, y, strict=True)))
        many = stored_in(self.study, f"x <b>&amp; (m^-1),y,g\n{lines}", "Many")
        source = {"kind": "pair", "table": str(many.pk), "x": "x_b_amp", "y": "y", "lines": [], "by": "g"}
        source["x"] = many.variables.first().symbol
        self.open_plate(source, name="Ä/ü: <many> & more…")
        svg = self.take("SVG")
        self.assertEqual(svg.name, "ä-ü-many-more.svg")
        root = ET.parse(svg).getroot()
        self.assertEqual(root.find(f"{SVG}title").text, "Ä/ü: <many> & more…")
        d = [each.get("d") for each in root.iter(f"{SVG}path") if (each.get("d") or "").count("M") > 20]
        self.assertEqual(sum(each.count("M") for each in d), 20_000)
        self.assertLess(svg.stat().st_size, 6_000_000)
        self.assertTrue(self.take("PDF").read_bytes().startswith(b"%PDF"))
