"""Everything on a plate is edited where it stands, and typed at its side; each step can be taken back."""

import re

import numpy as np
from heron.figure import styles
from playwright.sync_api import expect

from e2e.plating import PlateCase
from e2e.test_plates import LENGTH, TRAYS
from server.plates.models import Plate

BASKET = LENGTH[np.asarray(TRAYS.codes) == TRAYS.levels.index("basket")]


class InPlace(PlateCase):
    def test_titles_are_typed_where_they_stand_with_raised_and_greek_letters(self):
        plate = self.open_plate()
        title = self.at("0:up:title")
        expect(title).to_have_attribute("data-words", "Shell length (mm)")
        title.click()
        box = self.page.get_by_label("Title of the axis up")
        expect(box).to_be_focused()
        box.fill("Length, ")
        self.page.get_by_role("button", name="Signs").first.click()
        self.page.get_by_role("dialog", name="Signs").get_by_role("button", name="µ").click()
        expect(box).to_be_focused()
        box.press("End")
        box.type("m s^{-2} of CO_{2}")
        box.press("Enter")
        expect(title).to_have_attribute("data-words", "Length, µm s^{-2} of CO_{2}")
        runs = title.locator("[data-run]")
        expect(runs).to_have_text(["Length, µm s", "−2", " of CO", "2"])
        sizes = runs.evaluate_all(
            "(all) => all.map((t) => [Number(t.getAttribute('font-size')), Number(t.getAttribute('y'))])"
        )
        self.assertLess(sizes[1][0], sizes[0][0])
        self.assertLess(sizes[1][1], 0)  # raised
        self.assertGreater(sizes[3][1], 0)  # lowered
        self.assertEqual(self.document(plate)["panels"][0]["up"]["title"], "Length, µm s^{-2} of CO_{2}")
        self.part.get_by_role("button", name="reset").click()
        expect(title).to_have_attribute("data-words", "Shell length (mm)")
        title.click()
        self.page.get_by_label("Title of the axis up").fill("Other")
        self.page.keyboard.press("Escape")
        expect(title).to_have_attribute("data-words", "Shell length (mm)")

    def test_names_of_levels_are_typed_where_they_stand_and_put_back(self):
        self.open_plate(self.groups())
        basket = self.sheet.locator("[data-level]").filter(has_text="basket")
        basket.click()
        name = self.page.get_by_label("Name of basket", exact=True).first
        name.fill("wire basket")
        name.press("Enter")
        renamed = self.sheet.locator("[data-level]").filter(has_text="wire basket")
        expect(renamed).to_have_count(1)
        renamed.click()
        self.button("reset").first.click()
        expect(renamed).to_have_count(0)
        expect(basket).to_have_count(1)

    def test_the_end_of_an_axis_is_dragged_and_steps_are_taken_back(self):
        plate = self.open_plate()
        grip = self.page.get_by_role("slider", name="Shell length (mm), upper end")
        before = self.ticks("up")
        (low, (_, y_low)), *_, (high, (_, y_high)) = before.items()
        per_pixel = (float(high) - float(low)) / (y_high - y_low)
        top = float(grip.get_attribute("aria-valuenow"))
        self.drag(grip, 0, 80)
        now = float(grip.get_attribute("aria-valuenow"))
        self.assertAlmostEqual(now, top + 80 * per_pixel, delta=1.5)
        expect(self.checks).to_contain_text("The axes cut off")
        self.assertEqual(self.document(plate)["panels"][0]["up"]["high"], now)
        self.page.keyboard.press("Control+z")
        expect(grip).to_have_attribute("aria-valuenow", str(top).rstrip("0").rstrip("."))
        self.page.keyboard.press("Control+Shift+z")
        expect(grip).to_have_attribute("aria-valuenow", f"{now:g}")
        self.button("show all").click()
        self.assertIsNone(self.document(plate)["panels"][0]["up"]["high"])
        grip.focus()
        self.page.keyboard.press("ArrowUp")
        expect(grip).not_to_have_attribute("aria-valuenow", f"{top:g}")
        self.button("Undo").click()
        self.button("Undo").click()
        expect(grip).to_have_attribute("aria-valuenow", f"{now:g}")
        # Steps are this page's own: the table's Ledger stays as it was.
        self.assertEqual(self.table.entries.count(), 0)

    def test_legend_notes_lines_and_slips_are_dragged_to_their_places(self):
        plate = self.open_plate(self.pair(by="tray_type"))
        legend = self.at("0:legend")
        box = legend.bounding_box()
        self.drag(legend, 210, 190)
        moved = legend.bounding_box()
        self.assertAlmostEqual(moved["x"] - box["x"], 210, delta=2)
        self.assertAlmostEqual(moved["y"] - box["y"], 190, delta=2)
        self.page.get_by_role("group", name=re.compile("^Sheet:")).focus()
        self.page.keyboard.press("Shift+ArrowLeft")
        self.assertLess(legend.bounding_box()["x"], moved["x"] - 5)
        for kind in ("a reference line", "a note, with an arrow", "a number slip"):
            self.page.get_by_role("button", name=re.compile("^Add:")).click()
            self.page.get_by_role("option", name=kind).click()
        line, note, slip = (self.at(f"0:furniture:{k}") for k in range(3))
        expect(slip).to_contain_text("pairs")
        ticks = self.ticks("up")
        _, aim = ticks["40"]
        line_box = line.locator("[data-of=line]").bounding_box()
        self.drag(line.locator("[data-of=line]"), 0, aim - line_box["y"] + 2)  # a little beside the tick: it snaps
        self.assertEqual(self.document(plate)["panels"][0]["furniture"][0]["at"], 40)
        self.set_to("Text", "limit of sale")
        expect(line).to_contain_text("limit of sale")
        expect(self.caption).to_have_value(re.compile("Reference: limit of sale."))
        box = note.bounding_box()
        self.drag(note, 70, 40)
        self.assertAlmostEqual(note.bounding_box()["x"] - box["x"], 70, delta=2)
        tip = self.page.get_by_role("slider", name="Arrow, to where it points")
        self.drag(tip, 50, 60)
        expect(note.locator("[data-of=head]")).to_be_attached()
        note.locator("[data-words]").last.click()  # chosen already, so it opens to be typed
        self.page.get_by_label("Text", exact=True).first.fill("wet, β = 5.2")
        self.page.keyboard.press("Enter")
        expect(note).to_contain_text("wet, β = 5.2")
        said = self.document(plate)["panels"][0]
        self.assertIsNotNone(said["furniture"][1]["arrow_x"])
        self.assertGreater(said["legend"]["y"], 0.1)
        self.page.get_by_role("group", name=re.compile("^Sheet:")).focus()
        self.page.keyboard.press("Delete")
        expect(self.at("0:furniture:2")).to_have_count(0)

    def test_a_click_on_a_mark_opens_its_looks(self):
        plate = self.open_plate(self.pair(by="tray_type"))
        points = self.at("0:series:mesh").and_(self.page.locator("[data-role='points']"))
        points.locator("[data-of=point]").first.click(force=True)
        self.soon(
            lambda: self.assertIn("series", self.part.get_by_role("button", name=re.compile("^Part:")).inner_text())
        )
        self.choose_part("series mesh")
        self.part.get_by_label("Colour, any").fill("#336699")
        self.part.get_by_label("Shape").select_option("diamond")
        self.set_to("Size", "6")
        self.set_to("Opacity", "0.9")
        self.part.get_by_label("outlined in ink").click()
        paint = points.locator("[data-of=points]")
        expect(paint).to_have_attribute("fill", "#336699")
        expect(paint).to_have_attribute("fill-opacity", "0.9")
        expect(paint).to_have_attribute("stroke", styles.ON_SCREEN["ink"])
        self.set_to("Name", "mesh trays")
        expect(self.at("0:legend")).to_contain_text("mesh trays")
        self.part.get_by_label("filled").click()
        expect(paint).to_have_attribute("stroke", styles.ON_SCREEN["ink"])
        self.part.get_by_label("not drawn").click()
        expect(points).to_have_count(0)
        expect(self.at("0:legend")).not_to_contain_text("mesh trays")
        settings = self.document(plate)["panels"][0]["series"]["mesh"]
        self.assertEqual(
            (settings["shape"], settings["size"], settings["hidden"], settings["fill"]), (3, 6, True, False)
        )
        self.choose_part("the legend")
        self.part.get_by_label("Legend", exact=True).select_option("names at line ends")
        expect(self.at("0:legend").locator("[data-entry]")).to_have_count(2)
        self.set_to("Title", "Tray")


class Typed(PlateCase):
    def test_what_is_typed_at_the_side_of_a_sheet_stands_on_it(self):
        plate = self.open_plate(self.pair(), sheet={"width": 100, "height": 60})
        self.page.get_by_role("button", name=re.compile("^Zoom:")).click()
        self.page.get_by_role("option", name="100 %").click()
        box = self.sheet.bounding_box()
        self.assertAlmostEqual(box["width"], 100 / 25.4 * 96, delta=0.6)
        self.page.get_by_role("button", name=re.compile("^Width:")).click()
        self.page.get_by_role("option", name=re.compile("^double")).click()
        expect(self.sheet).to_have_attribute("viewBox", re.compile("^0 0 496.063 297.638$"))
        self.choose_part("the axis across")
        for label, text in (
            ("From", "0"),
            ("To", "100"),
            ("Ticks every", "25"),
            ("Minor ticks", "4"),
            ("Decimals", "1"),
        ):
            self.set_to(label, text)
        self.soon(lambda: self.assertEqual(list(self.ticks("across")), ["0", "25.0", "50.0", "75.0", "100.0"]))
        self.part.get_by_label("Format").select_option("percent")
        self.soon(lambda: self.assertTrue(all(tick.endswith("%") for tick in self.ticks("across"))))
        self.part.get_by_label("Rotation").select_option("slanted")
        self.choose_part("the axis up")
        self.part.get_by_label("Scale").select_option("log, base 2")
        self.soon(lambda: self.assertIn("32", self.ticks("up")))
        self.part.get_by_label("Scale").select_option("linear")
        for label, text in (
            ("From", "0"),
            ("To", "64"),
            ("Break from", "20"),
            ("Break to", "50"),
            ("Ticks at", "0, 10, 60"),
        ):
            self.set_to(label, text)
        expect(self.sheet.locator("[data-gap='up']")).to_have_count(1)
        self.soon(lambda: self.assertEqual(list(self.ticks("up")), ["0", "10", "60"]))
        self.page.get_by_role("button", name="3 ticks").click()
        self.page.get_by_label("Name of 10").fill("ten")
        expect(self.at("0:up").locator('[data-words="ten"]')).to_be_attached()
        self.page.keyboard.press("Escape")
        across, up = (self.document(plate)["panels"][0][side] for side in ("across", "up"))
        self.assertEqual((across["every"], across["minor"], across["rotation"]), (25, 4, 45))
        self.assertEqual((up["at"], up["gap_from"], up["gap_to"]), ([0, 10, 60], 20, 50))
        self.assertEqual(up["names"], {"10": "ten"})

    def test_bands_brackets_and_another_like_it(self):
        plate = self.open_plate()
        for kind in ("a band", "a bracket between groups"):
            self.page.get_by_role("button", name=re.compile("^Add:")).click()
            self.page.get_by_role("option", name=kind).click()
        self.set_to("Text", "p = 0.03")
        self.set_to("To group", "2")
        bracket = self.at("0:furniture:1")
        expect(bracket).to_contain_text("p = 0.03")
        names = self.ticks("across")
        path = bracket.locator("[data-of=bracket]").bounding_box()
        self.assertAlmostEqual(path["x"], names["basket"][0], delta=5)
        self.assertAlmostEqual(path["x"] + path["width"], names["slotted"][0], delta=5)
        self.button("One more").click()
        expect(self.at("0:furniture:2")).to_contain_text("p = 0.03")
        self.choose_part("band")
        self.set_to("From", "40")
        self.set_to("To", "60")
        rect = self.at("0:furniture:0").locator("[data-of=band]").bounding_box()
        ticks = self.ticks("up")
        self.assertAlmostEqual(rect["height"], ticks["40"][1] - ticks["60"][1], delta=1)
        end = self.page.get_by_role("slider", name="Band, second end")
        self.drag(end, 0, ticks["80"][1] - ticks["60"][1])
        self.assertEqual(self.document(plate)["panels"][0]["furniture"][0]["to"], 80)
        self.button("Remove").click()
        expect(self.at("0:furniture:2")).to_have_count(0)

    def test_a_style_is_kept_by_name_and_put_on_all_plates(self):
        other = self.made(self.pair(), name="Pairs")
        plate = self.open_plate(name="Lengths")
        self.choose_part("the style")
        self.part.get_by_label("Style", exact=True).select_option("in print")
        expect(self.checks).to_contain_text("The smallest type is 7 pt.")
        self.set_to("type", "8")
        self.part.get_by_label("Font").select_option("serif")
        self.part.get_by_label("Frame").select_option("closed")
        self.part.get_by_label("by hatch").click()
        expect(self.part).to_contain_text("changed here")
        expect(self.at("0:up:title").locator("[data-run]")).to_have_attribute("font-family", "Heron Serif")
        self.part.get_by_label("Name of the style").fill("Ours")
        self.button("Save the style").click()
        expect(self.part.get_by_role("status")).to_contain_text("Saved as Ours.")
        self.kept()
        self.button("Put it on all plates").click()
        expect(self.part.get_by_role("status")).to_contain_text("Put on 2 plates.")
        self.assertEqual(Plate.objects.get(pk=other.pk).document["style"]["name"], "Ours")
        # The plate at hand can still be changed.
        self.set_to("points", "5")
        self.assertEqual(self.document(plate)["style"]["point_size"], 5)
        self.page.goto(f"/tables/{self.table.pk}/spread?variable=shell_mass")
        expect(self.plot).to_be_visible()
        self.page.keyboard.press("p")
        expect(self.page.get_by_role("status").filter(has_text="Kept as plate")).to_be_visible()
        self.assertEqual(Plate.objects.latest("place").document["style"]["name"], "Ours")


class Panels(PlateCase):
    def test_several_panels_with_letters_on_shared_axes(self):
        self.made(self.pair(), name="Pairs")
        plate = self.open_plate(name="Lengths")
        self.part.get_by_role("button", name=re.compile("^Add the panels of")).click()
        self.page.get_by_role("option", name=re.compile("^Pairs")).click()
        expect(self.sheet.locator("[data-panel]")).to_have_count(2)
        expect(self.sheet.locator("g[data-words='B']")).to_be_visible()
        self.assertEqual(self.document(plate)["sheet"]["width"], 175)
        expect(self.caption).to_have_value(re.compile(r"^\(A\) Shell length .*\(B\) Shell mass", re.S))
        self.part.get_by_label("Letters").select_option("a, b, c")
        expect(self.sheet.locator("g[data-words='b']")).to_be_visible()
        self.button("b").click()
        self.set_to("Title", "By the row")
        self.button("Move back").click()
        expect(self.sheet.locator("[data-panel='0'] g[data-words='By the row']")).to_be_visible()
        self.button("Remove").click()
        expect(self.sheet.locator("[data-panel]")).to_have_count(1)

    def test_one_panel_for_each_level_on_the_same_axes(self):
        plate = self.open_plate(self.groups(by="week"), name="By week")
        self.part.get_by_role("button", name=re.compile("^One for each level of")).click()
        self.page.get_by_role("option", name=re.compile("^tray type")).click()
        expect(self.sheet.locator("[data-panel]")).to_have_count(3)
        document = self.document(plate)
        levels = [each["source"]["only"]["level"] for each in document["panels"]]
        self.assertEqual(levels, [each["title"] for each in document["panels"]])
        heights = {self.at(f"{i}:up").locator("[data-line]").evaluate("(p) => p.getBBox().height") for i in range(3)}
        self.assertEqual(len({round(height, 1) for height in heights}), 1)
        # Inner panels share the numbers of the first.
        expect(self.at("1:up").locator("g[data-words]")).to_have_count(0)
        ends = [
            (self.page.get_by_role("slider", name="Shell length (mm), upper end").nth(i).get_attribute("aria-valuenow"))
            for i in range(3)
        ]
        self.assertEqual(len(set(ends)), 1)
        self.assertGreaterEqual(float(ends[0]), np.nanmax(LENGTH))
        self.part.get_by_label("axis up").click()
        expect(self.at("1:up").locator("g[data-words]").first).to_be_visible()


class Words(PlateCase):
    def test_words_keep_in_step_until_edited_and_then_are_offered(self):
        plate = self.open_plate()
        expect(self.words).to_contain_text("keeps in step")
        n = len(self.caption.input_value().split())
        expect(self.words).to_contain_text(f"{n} words")
        self.caption.fill("Lengths by tray, n = 411.")
        expect(self.words).to_contain_text("6 words, edited")
        self.kept()
        self.set_aside(int(np.nanargmin(LENGTH)) + 1)
        self.page.reload()
        offer = self.words.get_by_role("alert")
        expect(offer).to_contain_text("1 row set aside (Ledger 1)")
        self.button("Keep mine").click()
        expect(offer).to_have_count(0)
        expect(self.caption).to_have_value("Lengths by tray, n = 411.")
        self.button("follow the data again").click()
        expect(self.caption).to_have_value(re.compile("1 row set aside"))
        self.button("Alternative text").click()
        said = self.page.get_by_label("Alternative text", exact=True)
        expect(said).to_have_value(re.compile("drawn as points and centres with bars"))
        self.assertIsNone(self.document(plate)["caption"]["text"])

    def test_words_that_lie_over_one_another_and_colours_that_merge(self):
        note = {"kind": "note", "x": 0, "y": 60, "text": "first"}
        panel = {"source": self.groups(), "furniture": [note, {**note, "text": "again"}]}
        self.open_plate(panel)
        result = self.checks.locator("[data-code='text']")
        expect(result).to_contain_text("lie over one another")
        result.get_by_role("button").click()
        expect(result).to_contain_text("No words lie over one another.")
        lines = {"source": self.pair(by="tray_type", lines=["smooth"]), "series": {}}
        for level in ("basket", "mesh"):
            lines["series"][level] = {"colour": "#777777", "shape": 1}
        self.open_plate(lines, style={**styles.ON_SCREEN, "shapes": False}, name="Merging")
        merging = self.checks.locator("[data-code='merge']")
        expect(merging).to_contain_text("basket and mesh merge")
        merging.get_by_role("button").click()
        expect(merging).to_contain_text("are told apart")

    def test_a_plate_is_seen_as_others_see_it(self):
        self.open_plate(self.pair(by="tray_type"))
        frame = self.page.get_by_role("group", name=re.compile("^Sheet:")).locator("[data-seen]")
        for name, view in (("in grey", "grey"), ("without green cones", "deutan")):
            self.page.get_by_role("button", name=re.compile("^Seen:")).click()
            self.page.get_by_role("option", name=name).click()
            self.assertIn(f"#view-{view}", frame.evaluate("(div) => getComputedStyle(div).filter"))

            def shows(grey: bool = view == "grey") -> None:
                pixels = self.colours()
                spread = np.abs(pixels - pixels.mean(axis=1, keepdims=True)).max()
                self.assertEqual(spread < 8, grey, spread)

            self.soon(shows)

    def colours(self) -> np.ndarray:
        import io

        from PIL import Image

        with Image.open(io.BytesIO(self.sheet.screenshot())) as read:
            return np.asarray(read.convert("RGB"), dtype=float).reshape(-1, 3)

    def test_somebody_elses_change_is_not_written_over(self):
        plate = self.open_plate()
        document = {**plate.document, "sheet": {**plate.document["sheet"], "width": 120}}
        Plate.objects.filter(pk=plate.pk).update(version=7, document=document)
        self.page.get_by_label("Name of the plate").fill("Mine")

        def both_stand() -> None:
            kept = Plate.objects.get(pk=plate.pk)
            self.assertEqual((kept.name, kept.document["sheet"]["width"]), ("Mine", 120))

        self.soon(both_stand)

    def test_each_check_is_mended_by_its_button(self):
        source = self.groups(marks=["from zero", "centre"])
        panel = {"source": source, "up": {"low": 30, "high": 50}, "legend": {"shown": "yes"}}
        style = {**styles.ON_SCREEN, "type_size": 5, "axis_line": 0.2}
        self.open_plate(panel, style=style, caption={"text": "Lengths.", "written": ""})
        for code, mend in (
            ("type", "make it 6 pt"), ("line", "make it 0.5 pt"), ("cut", "show all"),
            ("bars", "say it in the caption"), ("n", "say it in the caption"),
        ):  # fmt: skip
            finding = self.checks.locator(f"[data-code='{code}']")
            finding.get_by_role("button", name=mend).click()
            expect(finding.get_by_role("button")).to_have_count(0)
        expect(self.page.get_by_role("region", name="Checks")).to_contain_text("no problems found")
        expect(self.caption).to_have_value(re.compile("^Lengths.*one SD to each side.*n: basket 135", re.S))
