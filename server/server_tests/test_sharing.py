"""Members who look or change, links that let others look until they end, and two people on one study."""

from datetime import timedelta

from django.test import Client
from django.utils import timezone

from server.accounts.models import User
from server.ledger.models import Entry
from server.server_tests.cases import SMALL, StudyCase, person, signed_in, stored
from server.studies.models import Job, Link, Membership, SourceFile, Study, Upload


class Members(StudyCase):
    def setUp(self) -> None:
        super().setUp()
        self.bo = person("bo")
        self.theirs = signed_in(self.bo)
        self.people = f"/api/studies/{self.study.pk}/people"

    def invite(self, name: str, role: str):
        return self.client.put(self.people, {"name": name, "role": role}, content_type="application/json")

    def decide_as(self, client: Client, row: int, revision: int = 1):
        body = {"kind": "set-aside", "rows": [row], "reason": "spilt", "revision": revision}
        return client.post(f"/api/tables/{self.table.pk}/ledger", body, content_type="application/json")

    def test_who_may_look_may_not_change_and_who_may_change_may_not_share(self):
        self.assertEqual(self.theirs.get(self.people).status_code, 404)
        self.assertEqual(
            self.invite("Bo", "viewer").json()["members"][1], {"name": "bo", "role": "viewer", "you": False}
        )
        self.assertEqual(self.theirs.get("/api/studies").json()[0]["role"], "viewer")
        self.assert_problem(self.decide_as(self.theirs, 3), 403, "not-allowed")
        self.invite("bo", "editor")
        ledger = self.decide_as(self.theirs, 3).json()
        self.assertEqual([(e["author"], e["rows"]) for e in ledger["entries"]], [("bo", [3])])
        self.assertEqual(self.client.get(f"/api/tables/{self.table.pk}/ledger").json(), ledger)
        body = {"name": "eve", "role": "editor"}
        person("eve")
        sent = self.theirs.put(self.people, body, content_type="application/json")
        self.assert_problem(sent, 403, "not-allowed")
        self.assert_problem(self.theirs.delete(f"{self.people}?name=ada"), 403, "not-allowed")
        self.assertEqual(self.theirs.get(self.people).json()["links"], [])

    def test_an_end_leaves_what_was_decided_under_its_name(self):
        self.invite("bo", "editor")
        self.decide_as(self.theirs, 3)
        self.assertEqual(self.theirs.delete(f"{self.people}?name=bo").status_code, 204)
        self.assertEqual(self.theirs.get(f"/api/tables/{self.table.pk}").status_code, 404)
        self.assertEqual(self.client.get(f"/api/tables/{self.table.pk}/ledger").json()["entries"][0]["author"], "bo")

    def test_a_study_is_its_owners_to_name_and_to_remove(self):
        other = stored(self.bo)
        self.decide_as(self.client, 3)
        self.client.post(f"/api/studies/{self.study.pk}/pastes", {"text": SMALL}, content_type="application/json")
        self.client.post(
            f"/api/studies/{self.study.pk}/links", {"name": "r", "days": 7}, content_type="application/json"
        )
        self.invite("bo", "editor")
        address = f"/api/studies/{self.study.pk}"
        named = lambda client: client.patch(address, {"title": " Reef "}, content_type="application/json")  # noqa: E731
        self.assert_problem(named(self.theirs), 403, "not-allowed")
        self.assertEqual(named(self.client).json()["title"], "Reef")
        self.assert_problem(self.theirs.delete(address), 403, "not-allowed")
        job = Job.objects.create(study=self.study, name="big.csv")
        self.assert_problem(self.client.delete(address), 409, "at-work")
        job.delete()
        self.assertEqual(self.client.delete(address).status_code, 204)
        self.assertEqual([each["title"] for each in self.theirs.get("/api/studies").json()], ["Study of bo"])
        self.assertEqual([*Study.objects.all()], [other.study])
        self.assertEqual([*SourceFile.objects.all()], [other.source])
        self.assertFalse(Entry.objects.exists() or Upload.objects.exists() or User.objects.filter(guest=True).exists())

    def test_the_demo_study_is_many_peoples(self):
        self.client.post("/api/session/demo")
        (study,) = self.client.get("/api/studies").json()
        address = f"/api/studies/{study['id']}"
        self.assert_problem(
            self.client.patch(address, {"title": "Mine"}, content_type="application/json"), 403, "no-account"
        )
        self.assert_problem(self.client.delete(address), 403, "no-account")

    def test_refusals(self):
        self.assert_problem(self.invite("nobody at all", "viewer"), 404, "nobody")
        self.assert_problem(self.invite("ada", "viewer"), 422, "own-study")
        self.assert_problem(self.client.delete(f"{self.people}?name=ada"), 422, "own-study")
        self.assertEqual(self.invite("bo", "owner").status_code, 422)

    def test_of_two_who_decide_at_once_the_second_is_told_and_decides_again(self):
        self.invite("bo", "editor")
        self.decide_as(self.theirs, 4)
        refused = self.assert_problem(self.decide_as(self.client, 4), 409, "changed-meanwhile")
        self.assertIn("bo changed this table meanwhile: entry 1", refused["problem"])
        ledger = self.decide_as(self.client, 4, 2).json()
        self.assertEqual([(e["author"], e["rows"]) for e in ledger["entries"]], [("ada", [4])])
        # Nobody takes back what another decided.
        back = self.theirs.post(
            f"/api/tables/{self.table.pk}/ledger/undo", {"revision": 3}, content_type="application/json"
        )
        self.assert_problem(back, 409, "stands-on")

    def test_the_pulse_tells_how_far_a_study_has_come_and_who_is_here(self):
        self.invite("bo", "editor")
        pulse = f"/api/studies/{self.study.pk}/pulse"
        self.assertEqual(self.client.get(pulse).json(), {"tables": {str(self.table.pk): 1}, "plates": {}, "here": []})
        self.decide_as(self.theirs, 3)
        self.assertEqual(self.theirs.get(pulse).json()["here"], [{"name": "ada", "guest": False}])
        result = self.client.get(pulse).json()
        self.assertEqual(result["tables"], {str(self.table.pk): 2})
        self.assertEqual(result["here"], [{"name": "bo", "guest": False}])
        Membership.objects.filter(user=self.bo).update(here=timezone.now() - timedelta(minutes=1))
        self.assertEqual(self.client.get(pulse).json()["here"], [])
        with self.assertNumQueries(7):
            self.client.get(pulse)


class Links(StudyCase):
    def make(self, **said):
        made = self.act(f"studies/{self.study.pk}/links", {"name": "for the reviewer", **said})
        self.assertEqual(made.status_code, 201, made.content)
        return made.json()

    def follow(self, path: str, client: Client | None = None):
        client = client or Client()
        body = {"secret": path.removeprefix("/look/")}
        return client, client.post("/api/session/link", body, content_type="application/json")

    def test_a_link_lets_anybody_look_and_nobody_change(self):
        made = self.make(days=7)
        secret = made["path"].removeprefix("/look/")
        self.assertGreaterEqual(len(secret), 43)  # 256 bits
        self.assertFalse(Link.objects.filter(digest__contains=secret).exists())
        guest, opened = self.follow(made["path"])
        self.assertEqual(opened.json(), {"study": str(self.study.pk), "table": str(self.table.pk)})
        self.assertTrue(guest.get("/api/session").json()["guest"])
        table = f"/api/tables/{self.table.pk}"
        self.assertEqual(guest.get(table).status_code, 200)
        self.assertEqual(guest.get(f"{table}/readings/spread?variable=mass").status_code, 200)
        body = {"kind": "set-aside", "rows": [1], "reason": "x", "revision": 1}
        send = {"content_type": "application/json"}
        self.assert_problem(guest.post(f"{table}/ledger", body, **send), 403, "not-allowed")
        self.assert_problem(guest.post("/api/studies", {"title": "mine"}, **send), 403, "no-account")
        self.assert_problem(guest.post("/api/session/tokens", {"name": "x"}, **send), 403, "no-account")
        self.assertEqual(self.client.get(f"/api/studies/{self.study.pk}/people").json()["members"][0]["name"], "ada")
        self.assertEqual(len(self.client.get(f"/api/studies/{self.study.pk}/people").json()["members"]), 1)
        guest.get(f"/api/studies/{self.study.pk}/pulse")
        present = self.client.get(f"/api/studies/{self.study.pk}/pulse").json()["here"]
        self.assertEqual(present, [{"name": "for the reviewer", "guest": True}])

    def test_it_ends_when_it_is_revoked_and_when_its_time_is_over(self):
        revoked, over = self.make(), self.make(days=1)
        mine, _ = self.follow(revoked["path"])
        late, _ = self.follow(over["path"])
        signed, _ = self.follow(over["path"], signed_in(person("bo")))
        table = f"/api/tables/{self.table.pk}"
        for client in (mine, late, signed):
            self.assertEqual(client.get(table).status_code, 200)
        self.assertEqual(signed.get("/api/session").json()["name"], "bo")  # who is signed in stays who they are
        self.assertEqual(signed_in(person("eve")).delete(f"/api/links/{revoked['id']}").status_code, 404)
        self.assertEqual(self.client.delete(f"/api/links/{revoked['id']}").status_code, 204)
        self.assert_problem(mine.get(table), 401, "signed-out")
        self.assert_problem(self.follow(revoked["path"])[1], 404, "no-link")
        past = timezone.now() - timedelta(seconds=1)
        Link.objects.filter(pk=over["id"]).update(expires=past)
        Membership.objects.filter(link=over["id"]).update(until=past)
        for client in (late, signed):
            self.assertEqual(client.get(table).status_code, 404)
        self.assertEqual(late.get("/api/studies").json(), [])
        self.assert_problem(self.follow(over["path"])[1], 404, "no-link")
        (line,) = self.client.get(f"/api/studies/{self.study.pk}/people").json()["links"]
        self.assertTrue(line["ended"])

    def test_a_member_who_follows_a_link_stays_a_member(self):
        bo = person("bo")
        Membership.objects.create(study=self.study, user=bo, role=Membership.Role.EDITOR)
        self.follow(self.make()["path"], signed_in(bo))
        self.assertEqual(Membership.objects.get(user=bo).role, Membership.Role.EDITOR)

    def test_only_the_owner_makes_links_and_the_demo_account_makes_none(self):
        bo = person("bo")
        Membership.objects.create(study=self.study, user=bo, role=Membership.Role.EDITOR)
        send = {"data": {"name": "x"}, "content_type": "application/json"}
        self.assert_problem(signed_in(bo).post(f"/api/studies/{self.study.pk}/links", **send), 403, "not-allowed")
        with self.settings(DEMO="shared"):
            demo = Client()
            demo.post("/api/session/demo")
            study = Study.objects.get(owner=User.objects.get(username="demo"))
            self.assert_problem(demo.post(f"/api/studies/{study.pk}/links", **send), 403, "no-account")
        self.assert_problem(self.follow("/look/guess")[1], 404, "no-link")
