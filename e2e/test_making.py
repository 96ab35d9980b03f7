"""Variables described, tables made of tables, simulated, typed, and read again, as a person does it."""

import re

from playwright.sync_api import expect

from e2e.browser import BrowserCase
from server.studies.models import Table


class Describing(BrowserCase):
    def test_kinds_units_and_limits_of_one_variable_and_of_many(self):
        self.open_demo_table()
        self.page.keyboard.press("v")
        expect(self.sentence).to_have_text("Variables of Oyster nursery, where n counts rows and each row counts once")
        stage = self.page.get_by_role("main")
        self.button("Kind of tray type: category, 3 levels").click()
        self.page.get_by_role("option", name="continuous").click()
        expect(stage).to_contain_text("416 values of 416 would count as missing")
        self.button("as it was").click()
        stage.get_by_role("button", name="basket one place down").click()
        self.page.get_by_label("Words for mesh").fill("mesh tray")
        self.button("Save").click()
        row = stage.get_by_role("row").filter(has_text="tray_type")
        expect(row).to_contain_text("mesh tray, basket, slotted")
        unit = self.page.get_by_label("Unit of condition_index")
        unit.fill("% m^-1")
        unit.press("Enter")
        expect(unit).to_have_value("% m⁻¹")
        for name in ("shell length", "shell width"):
            self.page.get_by_label(f"Choose {name}").check()
        self.page.get_by_label("Choose condition index").uncheck()
        self.page.get_by_label("Unit, powers as").fill("mm m^{-2}")
        self.page.get_by_label("Cannot be below").fill("0")
        self.button("Save for 2 variables").click()
        expect(self.page.get_by_label("Unit of shell_width")).to_have_value("mm m⁻²")
        expect(stage.get_by_role("row").filter(has_text="shell_length")).to_contain_text("not below 0")
        self.button("What n counts: rows").click()
        self.page.get_by_role("option", name="each tag").click()
        expect(self.sentence).to_contain_text("n counts each tag")
        self.page.keyboard.press("Control+z")
        expect(self.sentence).to_contain_text("n counts rows")
        ledger = self.page.get_by_role("complementary", name="Ledger")
        expect(ledger).to_contain_text(": unit mm m^{-2}; not below 0")


class Making(BrowserCase):
    def make(self) -> None:
        self.button("Make the table").click()
        expect(self.sentence).to_contain_text("Spread of")

    def test_the_tile_kiln_is_brought_to_long_form_in_three_clicks_and_follows_its_source(self):
        self.open_demo_table("strength_1", "Tile kiln")
        self.page.get_by_role("navigation", name="Stages").get_by_role("link", name="Intake").click()
        self.page.get_by_role("listitem").filter(has_text="tile_kiln.csv").get_by_role("link", name="rearrange").click()
        expect(self.page.get_by_role("heading", name="900 rows, 7 variables")).to_be_visible()
        self.make()
        self.page.get_by_role("navigation", name="Variables").get_by_role("link", name="strength").click()
        expect(self.page.get_by_text(re.compile("^894 rows used"))).to_be_visible()
        self.type_choice("Control+k", "Find or do", "table Tile kiln")
        expect(self.sentence).to_contain_text("in Tile kiln as a shape")
        self.page.keyboard.press("g")
        expect(self.page.get_by_role("rowheader").first).to_have_text("1")
        self.page.get_by_role("grid").get_by_role("row").nth(1).click()
        self.page.keyboard.press("x")
        self.page.get_by_label("Reason").fill("cracked")
        self.page.get_by_role("dialog").get_by_role("button", name="Set aside", exact=True).click()
        expect(self.page.get_by_text("1 set aside, struck through")).to_be_visible()
        self.page.keyboard.press("1")
        self.page.get_by_role("link", name="Tile kiln, longer").click()
        expect(self.sentence).to_contain_text("in Tile kiln, longer")
        self.page.get_by_role("navigation", name="Variables").get_by_role("link", name="strength").click()
        expect(self.page.get_by_role("button", name="5 set aside")).to_be_visible()

    def test_a_table_is_simulated_and_says_how(self):
        self.open_demo_table()
        self.page.keyboard.press("1")
        self.button("How it comes: from a file, or pasted").click()
        self.page.get_by_role("option", name="by simulating it").click()
        self.page.get_by_label("Distribution").select_option("gamma")
        self.page.get_by_label("shape").fill("4")
        self.page.get_by_label("Seed").fill("42")
        self.button("A second, correlated variable").click()
        expect(self.page.get_by_role("heading", name="100 rows, 2 variables")).to_be_visible()
        self.make()
        how = "Simulated with seed 42: value gamma (shape 4, scale 1); second value normal (mean 0, SD 1)"
        expect(self.page.get_by_role("navigation", name="Variables")).to_contain_text(how)

    def test_a_small_table_is_typed_with_a_pasted_block(self):
        self.open_demo_table()
        self.page.keyboard.press("1")
        self.button("How it comes: from a file, or pasted").click()
        self.page.get_by_role("option", name="by typing it").click()
        first = self.page.get_by_label("Name of variable 1")
        first.fill("dose (mg)")
        self.paste(self.page.get_by_label("Row 1, dose (mg)"), "2.5\t30\n5\t41\n7.5\t55")
        self.page.get_by_label("Name of variable 2").fill("answers")
        self.button("Preview").click()
        expect(self.sentence).to_contain_text("Read typed.txt into Ellery Sound")
        self.button("Store the table").click()
        expect(self.sentence).to_contain_text("Spread of answers")
        self.assertEqual(Table.objects.get(source__name="typed.txt").n_rows, 3)

    def test_a_table_is_read_again_from_its_file_as_a_new_revision(self):
        self.open_demo_table()
        self.page.keyboard.press("1")
        self.button("Oyster nursery: read again").click()
        expect(self.sentence).to_contain_text("Read oyster_nursery.csv again into Oyster nursery")
        expect(self.page.get_by_text("416 rows matched.")).to_be_visible()
        self.button("Kind of week: ordered").click()
        self.page.get_by_role("option", name="continuous").click()
        self.button("Read it so from here on").click()
        expect(self.sentence).to_contain_text("Spread of")
        self.page.keyboard.press("l")
        ledger = self.page.get_by_role("complementary", name="Ledger")
        expect(ledger).to_contain_text("Read the file again. 416 rows matched.")
        ledger.get_by_role("button", name="Undo").click()
        expect(ledger).to_contain_text("Took back entry 1")


class OtherWays(BrowserCase):
    def rearrange(self, how: str, table: str = "Tile kiln", variable: str = "strength_1") -> None:
        self.open_demo_table(variable, table)
        self.page.goto(self.page.url.replace("spread", "rearrange"))
        self.page.get_by_role("button", name=re.compile("^What is made:")).click()
        self.page.get_by_role("option", name=how).click()

    def result(self, words: str):
        heading = self.page.get_by_role("heading", name=re.compile(words))
        expect(heading).to_be_visible()
        return self.page.get_by_role("region", name=re.compile(words))

    def tick(self, group: str, *labels: str) -> None:
        boxes = self.page.get_by_role("group", name=group)
        ticked = boxes.get_by_role("checkbox", checked=True)
        while ticked.count() > 0:
            ticked.first.uncheck()
        for label in labels:
            boxes.get_by_label(label).check()

    def test_variables_are_looked_up_with_the_unmatched_named(self):
        self.rearrange("variables looked up elsewhere")
        self.page.get_by_label("Looked up in").select_option(label="Oyster nursery")
        self.page.get_by_label("By", exact=True).select_option("batch")
        self.page.get_by_label("which in Oyster nursery is").select_option("tag")
        self.tick("Brings", "salinity")
        shown = self.result("^180 rows, 11 variables")
        expect(shown).to_contain_text("180 rows without a partner: T001, T002")
        shown.get_by_role("button", name="show them").click()
        expect(self.strip).to_contain_text("180 rows selected")

    def test_rows_by_rule_levels_as_columns_and_rows_of_another_table_below(self):
        self.rearrange("some rows or variables only")
        self.button("Only rows that meet a condition").click()
        self.page.get_by_label("Rows where").select_option("strength_1")
        self.page.get_by_label("from", exact=True).fill("30")
        self.result(r"^\d+ rows, 10 variables")
        self.button("What is made: some rows or variables only").click()
        self.page.get_by_role("option", name="levels as columns").click()
        self.tick("One row for each", "batch")
        self.page.get_by_label("One column for each level of").select_option("shift")
        self.tick("Filled with", "strength 1")
        shown = self.result("^180 rows, ")
        for shift in ("early", "late"):
            expect(shown.get_by_role("columnheader").filter(has_text=f"strength 1 {shift}")).to_be_visible()
        self.button("What is made: levels as columns").click()
        self.page.get_by_role("option", name="rows of other tables below").click()
        self.page.get_by_label("Cleaning trials").check()
        lacking = "is blank in the rows of Cleaning trials, which has none."
        expect(self.result("^194 rows, ")).to_contain_text(lacking)

    def test_a_text_is_split_and_variables_joined(self):
        self.rearrange("a variable split")
        self.page.get_by_label("Variable", exact=True).select_option("batch")
        self.page.get_by_label("Split at").fill("/")
        expect(self.page.get_by_role("alert")).to_contain_text("'/' stands nowhere in batch.")
        self.page.get_by_label("Split at").fill("T")
        self.result("^180 rows, 12 variables")
        self.page.get_by_role("button", name=re.compile("^What is made:")).click()
        self.page.get_by_role("option", name="variables joined").click()
        self.tick("Joined, in the order chosen", "kiln", "shift")
        self.page.get_by_label("With this between them").fill(" at ")
        expect(self.result("^180 rows, 11 variables")).to_contain_text("B at early")


class Limits(BrowserCase):
    def test_values_below_a_limit_are_kept_and_the_caption_says_so(self):
        self.open_demo_table()
        self.paste_table("lead (mg)\n<0.5\n2.5\n<0.5\n4\n3.5\n")
        self.button("They lie below a limit").click()
        expect(self.page.get_by_text("Nothing looks wrong")).to_be_visible()
        self.button("Store the table").click()
        expect(self.reading).to_contain_text("0.5, 4.0")
        self.button("describe").click()
        self.page.get_by_label("Values below it").select_option("half")
        self.button("Save").click()
        expect(self.page.get_by_role("dialog")).to_have_count(0)
        expect(self.reading).to_contain_text("0.3, 4.0")
        self.button("Download").click()
        expect(self.page.get_by_role("dialog")).to_contain_text(
            "2 values known to lie below a limit, for which half the limit stands"
        )

    def test_specification_limits_are_drawn_and_what_lies_beyond_can_be_opened(self):
        self.open_demo_table("shell_length")
        self.button("describe").click()
        self.page.get_by_label("Specified to").fill("60")
        self.page.get_by_label("Target").fill("50")
        self.button("Save").click()
        expect(self.page.get_by_role("dialog")).to_have_count(0)
        expect(self.sheet).to_contain_text("upper limit")
        expect(self.sheet).to_contain_text("target")
        expect(self.reading).to_contain_text("a normal distribution would have")
        beyond = self.reading.get_by_role("button", name=re.compile(r"^\d+ rows$"))
        counted = beyond.text_content()
        beyond.click()
        expect(self.strip).to_contain_text(f"{counted} selected: above 60 mm")
        self.button("intervals").click()
        expect(self.page.get_by_role("dialog")).to_contain_text("Hahn and Meeker (1991)")
        self.page.get_by_label("Holds at least").fill("90")
        expect(self.page.get_by_role("dialog")).to_contain_text(re.compile(r"confidence 9\d\.\d %"))

    def test_nothing_is_decided_while_looking_back(self):
        self.open_demo_table()
        self.reading.get_by_role("button", name="row 390").click()
        self.page.keyboard.press("x")
        dialog = self.page.get_by_role("dialog")
        dialog.get_by_label("Reason").fill("wet")
        dialog.get_by_role("button", name="Set aside", exact=True).click()
        expect(self.page.get_by_text("415 rows used")).to_be_visible()
        self.page.keyboard.press("l")
        ledger = self.page.get_by_role("complementary", name="Ledger")
        ledger.get_by_text("As it came").get_by_role("button").click()
        expect(self.page.get_by_text("416 rows used")).to_be_visible()
        ledger.get_by_role("button", name="Undo").click()
        expect(ledger.get_by_role("alert")).to_contain_text("You are looking back at an earlier point.")
        self.button("Return to now").click(force=True)
        expect(self.page.get_by_text("415 rows used")).to_be_visible()
