"""Compare and Relate among the other stages: what is selected, decided, looked back at and bookmarked goes along."""

import re

import numpy as np
from heron import groups
from playwright.sync_api import expect

from e2e.comparing import ComparingCase
from e2e.test_compare_pictures import OYSTERS, TRAYS, mass
from e2e.test_keyboard import SMALL, UNNAMED

THIRD = re.compile("^basket")


class Together(ComparingCase):
    def count(self) -> int:
        return int(self.line("basket").get_by_role("cell").first.inner_text())

    def stage(self, key: str, word: str) -> None:
        self.page.keyboard.press(key)
        expect(self.sentence).to_contain_text(word)

    @property
    def picture(self):
        return self.page.get_by_role("application").first

    def test_what_is_selected_in_one_stage_is_selected_in_all(self):
        self.open_compare()
        self.picture.press("ArrowRight")
        self.picture.press("Enter")
        basket = int(np.count_nonzero(TRAYS == "basket"))
        expect(self.strip).to_contain_text(f"{basket} rows selected: basket")
        self.picture.blur()
        self.stage("6", "Relate shell mass")
        expect(self.strip).to_contain_text(f"{basket} rows selected: basket")
        self.picture.press("ArrowRight")
        self.picture.press("Enter")
        expect(self.strip).to_contain_text("1 row selected")
        self.picture.blur()
        self.stage("4", "Screen")
        expect(self.page.get_by_role("region", name="Decision on these rows")).to_be_visible()

    def test_a_row_set_aside_leaves_every_stage_at_once_and_comes_back(self):
        self.open_compare()
        expect(self.line("basket")).to_be_visible()
        before = self.count()
        self.stage("6", "Relate")
        used = self.page.get_by_role("region", name="Pairs used and lost")
        expect(used).to_contain_text("pairs")
        self.pick("Against", "shell width")
        pairs = int(np.count_nonzero(~np.isnan(mass) & ~np.isnan(OYSTERS["shell_width"].numbers)))
        expect(used).to_contain_text(f"{pairs} pairs")
        first = int(np.argmin(OYSTERS["shell_width"].numbers))
        self.picture.press("ArrowRight")
        self.picture.press("Enter")
        expect(self.strip).to_contain_text("1 row selected")
        self.picture.blur()
        self.page.keyboard.press("x")
        self.page.get_by_label("Reason").fill("decimal slip")
        self.page.get_by_role("dialog").get_by_role("button", name="Set aside", exact=True).click()
        expect(used).to_contain_text(f"{pairs - 1} pairs, 1 set aside")
        self.page.keyboard.press("Escape")
        self.stage("5", "Compare")
        left = int(np.count_nonzero(TRAYS == "basket")) - int(TRAYS[first] == "basket")
        expect(self.line("basket").get_by_role("cell").first).to_have_text(str(left))
        self.page.keyboard.press("Control+z")
        expect(self.line("basket").get_by_role("cell").first).to_have_text(str(before))

    def test_an_address_brings_the_same_picture_back(self):
        self.open_compare()
        self.pick("Centre", "trimmed mean")
        self.sentence.get_by_role("button", name=re.compile("^Share cut")).click()
        self.page.get_by_label("Percent cut from each end").fill("25")
        self.page.get_by_role("dialog").get_by_role("button", name="Set").click()
        self.pick("Bars", "percent points")
        self.page.get_by_role("button", name=re.compile("^Percent points:")).click()
        self.page.get_by_role("textbox", name="From").fill("10")
        self.page.get_by_role("textbox", name="To").fill("60")
        self.page.get_by_role("dialog").get_by_role("button", name="Set").click()
        self.button("violin").click()
        self.drawn("Direction: horizontal", "Density: half")
        expected = groups.group_centres(
            mass, TRAYS, centre="trimmed-mean", bars="percentiles", percents=(10, 60), trim=0.25
        )
        for _ in range(2):
            for group in expected.groups:
                expect(self.line(group.label)).to_contain_text(f"{group.centre:.3f}")
                expect(self.line(group.label)).to_contain_text(f"{group.high:.3f}")
            expect(self.groups).to_contain_text("25 % trimmed mean; bars: from the 10 to the 60 percent point")
            expect(self.groups).to_contain_text("Half violins")
            self.page.reload()
        self.page.go_back()
        expect(self.groups).to_contain_text("Violins: density")

    def test_every_control_of_both_is_named_and_large_enough_by_day_and_by_night(self):
        self.open_compare()
        for scheme in ("light", "dark"):
            self.page.emulate_media(color_scheme=scheme)
            for key, word, shown in (("5", "Compare", ("violin", "box")), ("6", "Relate", ("least squares", "lowess"))):
                self.stage(key, word)
                for name in shown:
                    if self.button(name).get_attribute("data-state") == "off":
                        self.button(name).click()
                self.button("display").click()
                expect(self.page.get_by_role("dialog")).to_be_visible()
                self.assertEqual(self.page.evaluate(UNNAMED), [])
                self.assertEqual(self.page.evaluate(SMALL), [])
                self.page.keyboard.press("Escape")
                expect(self.page.get_by_role("dialog")).to_have_count(0)
            self.button("straighten").click()
            expect(self.page.get_by_role("button", name=re.compile("^untransformed on untransformed:"))).to_be_visible()
            self.assertEqual(self.page.evaluate(UNNAMED), [])
            self.button("one pair").click()
        self.assert_nothing_scrolls_sideways()

    def test_a_pair_is_walked_zoomed_and_read_by_keyboard_alone(self):
        self.open_demo_table()
        self.stage("6", "Relate")
        self.page.keyboard.press("/")
        expect(self.page.get_by_role("combobox", name="Variable")).to_be_focused()
        self.page.keyboard.type("condition")
        self.page.keyboard.press("Enter")
        expect(self.sentence).to_contain_text("Relate condition index")
        picture = self.page.get_by_role("application", name=re.compile("Condition index against"))
        picture.press("Shift+ArrowRight")
        status = self.page.get_by_role("status").first
        expect(status).to_contain_text("Condition index")
        tenth = status.inner_text()
        picture.press("ArrowRight")
        expect(status).not_to_have_text(tenth)
        ticks = self.page.locator("[data-part='0:across'] [data-words]")
        before = ticks.all_text_contents()
        picture.press("+")
        expect(self.page).to_have_url(re.compile("window="))
        expect(ticks).not_to_have_text(before)
        picture.press("0")
        expect(ticks).to_have_text(before)
        expect(self.page).not_to_have_url(re.compile("window="))
        picture.press("Enter")
        expect(self.strip).to_contain_text("1 row selected")

    def test_reasons_offered_go_with_the_person_to_another_browser(self):
        self.open_demo_table()
        self.stage("4", "Screen")
        self.page.get_by_role("region", name="Rows flagged").get_by_role("button", name="row 390", exact=True).click()
        hand = self.page.get_by_role("region", name="Decision on these rows")
        hand.get_by_role("button", name="set the row aside").click()
        hand.get_by_label("Reason").fill("tray overturned")
        with self.page.expect_response(lambda answer: answer.url.endswith("/session/listed")):
            hand.get_by_role("button", name="offer this reason from now on").click()
        self.page.evaluate("localStorage.clear()")
        self.page.reload()
        self.page.get_by_role("region", name="Rows flagged").get_by_role("button", name="row 390", exact=True).click()
        hand.get_by_role("button", name="set the row aside").click()
        expect(hand.get_by_role("button", name="tray overturned")).to_be_visible()

    def test_what_stood_once_is_related_as_it_stood(self):
        self.open_demo_table()
        self.stage("6", "Relate")
        used = self.page.get_by_role("region", name="Pairs used and lost")
        self.pick("Against", "shell length")
        expect(used).to_contain_text("411 pairs")
        self.picture.press("ArrowRight")
        self.picture.press("Enter")
        self.picture.blur()
        self.page.keyboard.press("x")
        self.page.get_by_label("Reason").fill("slip")
        self.page.get_by_role("dialog").get_by_role("button", name="Set aside", exact=True).click()
        expect(used).to_contain_text("410 pairs")
        self.page.keyboard.press("l")
        ledger = self.page.get_by_role("complementary", name="Ledger")
        ledger.get_by_role("listitem").filter(has_text="As it came").get_by_role(
            "button", name="look back to here"
        ).click()
        expect(used).to_contain_text("411 pairs")
