"""Two people on one study, and a guest who came by a link."""

import re

from playwright.sync_api import Page, expect

from e2e.browser import chromium
from e2e.plating import PlateCase
from server.ledger.services import RowDecision, decide
from server.plates.models import Plate
from server.studies.models import Link, Membership, Table


class Together(PlateCase):
    def setUp(self) -> None:
        super().setUp()
        self.bo = self.person("bo")

    def let_in(self, role: str = "editor") -> None:
        Membership.objects.create(study=self.study, user=self.bo, role=role)

    def page_of(self, user=None) -> Page:
        """A page in a profile of its own, as somebody, or as nobody yet."""
        context = chromium().new_context(base_url=self.live_server_url, viewport={"width": 1280, "height": 800})
        self.addCleanup(context.close)
        mine, self.context = self.context, context
        try:
            if user:
                self.enter_as(user)
            return self.new_page()
        finally:
            self.context = mine

    def decide_as_bo(self, row: int) -> None:
        table = Table.objects.get(pk=self.table.pk)
        decide(self.bo, table, RowDecision("set-aside", [row], "", "cracked", table.revision))

    def test_a_person_is_let_in_and_what_they_decide_shows_to_the_other(self):
        self.page.goto(f"/studies/{self.study.pk}/record?as=people")
        people = self.page.get_by_role("region", name="People")
        people.get_by_label("Name they sign in with").fill("nobody")
        self.button("Let them in").click()
        expect(people.get_by_role("alert")).to_contain_text("Nobody here is called nobody.")
        people.get_by_label("Name they sign in with").fill("bo")
        self.button("Let them in").click()
        expect(people.get_by_label("What bo may do")).to_have_value("editor")
        theirs = self.page_of(self.bo)
        theirs.goto(f"/tables/{self.table.pk}/spread?variable=shell_mass")
        expect(self.page.get_by_text("Here too: bo")).to_be_attached()
        self.page.goto(f"/tables/{self.table.pk}/spread?variable=shell_mass")
        expect(self.page.get_by_text("416 rows used")).to_be_visible()
        theirs.get_by_role("region", name="Reading").get_by_role("button", name="row 390").click()
        theirs.keyboard.press("x")
        theirs.get_by_role("dialog").get_by_label("Reason").fill("cracked")
        theirs.get_by_role("dialog").get_by_role("button", name="Set aside", exact=True).click()
        expect(self.page.get_by_text("415 rows used")).to_be_visible()
        expect(self.page.get_by_text("bo set aside 1 row, in Oyster nursery.")).to_be_visible()
        self.button("the Ledger").click()
        expect(self.page.get_by_role("complementary", name="Ledger")).to_contain_text("bo, ")
        expect(theirs.get_by_text("bo set aside 1 row")).to_have_count(0)

    def test_who_looks_at_a_study_that_its_owner_removes_is_told(self):
        self.let_in()
        theirs = self.page_of(self.bo)
        theirs.goto(f"/tables/{self.table.pk}/spread?variable=shell_mass")
        expect(theirs.get_by_text("416 rows used")).to_be_visible()
        self.page.goto(f"/studies/{self.study.pk}/record?as=people")
        self.page.get_by_role("button", name="Study: Ellery Sound").click()
        self.button("Remove it").click()
        self.button("Remove Ellery Sound for good").click()
        expect(self.page.get_by_text("You have no study yet.")).to_be_visible()
        expect(theirs.get_by_role("alert")).to_contain_text("There is no such table here: it was removed")
        theirs.get_by_role("link", name="To your first table").click()
        theirs.get_by_label("Title of the study").fill("Reefs")
        theirs.get_by_role("button", name="Begin it").click()
        expect(theirs.get_by_role("heading", level=1)).to_contain_text("Bring a table into Reefs")

    def test_two_edit_one_plate_and_both_edits_stay(self):
        self.let_in()
        plate = self.open_plate()
        theirs = self.page_of(self.bo)
        theirs.goto(f"/plates/{plate.pk}")
        name = theirs.get_by_label("Name of the plate")
        expect(name).to_have_value("Lengths")
        # Both edit before either is kept; the second to be kept is refused, and joins the first.
        self.page.locator("[data-part='0:up:title']").first.click()
        self.page.get_by_label("Title of the axis up").fill("Length of the shell")
        name.fill("Lengths by bo")
        self.page.keyboard.press("Enter")
        expect(self.page.get_by_label("Name of the plate")).to_have_value("Lengths by bo")
        expect(theirs.locator("svg:has(> [data-paper])")).to_contain_text("Length of the shell")

        def both_stand() -> None:
            kept = Plate.objects.get(pk=plate.pk)
            self.assertEqual(kept.name, "Lengths by bo")
            self.assertEqual(kept.document["panels"][0]["up"]["title"], "Length of the shell")

        self.soon(both_stand)
        # Taking back takes back one's own.
        self.button("Undo").click()
        expect(self.sheet).not_to_contain_text("Length of the shell")
        expect(self.page.get_by_label("Name of the plate")).to_have_value("Lengths by bo")

    def test_a_link_leads_a_guest_to_the_study_until_it_is_revoked(self):
        self.page.goto(f"/studies/{self.study.pk}/record?as=people")
        self.page.get_by_label("For whom").fill("the reviewer")
        self.button("Make a link").click()
        links = self.page.get_by_role("region", name="Links for looking")
        address = links.locator("code").inner_text()
        self.assertTrue(address.startswith(self.live_server_url))
        guest = self.page_of()
        guest.goto(address)
        expect(guest.get_by_role("region", name="Shape on one axis").get_by_role("application")).to_be_visible()
        self.assertNotIn("look", guest.url)
        expect(self.page.get_by_text("Here too: a guest, the reviewer")).to_be_attached()
        guest.keyboard.press("p")
        expect(guest.get_by_role("status")).to_contain_text("You may look at this study, but not change it.")
        self.assertFalse(Plate.objects.exists())
        self.page.reload()
        expect(links).to_contain_text("last followed")
        expect(links.locator("code")).to_have_count(0)
        links.get_by_role("button", name="revoke").click()
        expect(links).to_contain_text("No link leads here yet.")
        self.assertFalse(Link.objects.exists())
        guest.reload()
        expect(guest.get_by_role("button", name="Sign in")).to_be_visible()
        guest.goto(address)
        expect(guest.get_by_role("alert")).to_contain_text("This link leads nowhere")

    def test_who_may_look_is_told_so_and_may_leave(self):
        self.let_in("viewer")
        theirs = self.page_of(self.bo)
        theirs.goto(f"/studies/{self.study.pk}/record?as=people")
        expect(theirs.get_by_text("You may look. Whoever owns the study shares it further.")).to_be_visible()
        theirs.get_by_role("button", name="leave the study").click()
        expect(theirs).to_have_url(re.compile(r"/$"))
        self.assertFalse(Membership.objects.filter(user=self.bo).exists())
