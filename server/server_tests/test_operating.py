"""Whoever runs a server: people, quotas, invitations, letters; nothing of it for anybody else."""

import io

from django.core.management import call_command
from django.test import Client, override_settings

from server.accounts.models import Event, Invitation, User
from server.server_tests.cases import StudyCase, as_file, person, signed_in
from server.server_tests.provider import code_of
from server.studies.models import Job


class Operating(StudyCase):
    def setUp(self):
        super().setUp()
        call_command("make_operator", "ada", stdout=io.StringIO())
        self.client = signed_in(User.objects.get(username="ada"))
        self.bob = person("bob")

    def told(self):
        return self.client.get("/api/operating").json()

    def change(self, who, **said):
        body = {"active": True, "quota_mb": None, "quota_tables": None, "quota_jobs": None, **said}
        return self.client.put(f"/api/operating/people/{who.pk}", body, content_type="application/json")

    def test_nobody_else_has_it(self):
        for client in (signed_in(self.bob), Client()):
            for answer in (
                client.get("/api/operating"),
                client.post("/api/operating/invitations", {"name": "x"}, content_type="application/json"),
                client.put(f"/api/operating/people/{self.bob.pk}", {}, content_type="application/json"),
                client.delete("/api/operating/letters/1"), client.delete("/api/operating/invitations/1"),
            ):  # fmt: skip
                self.assertIn(answer.status_code, (401, 404, 422))
        self.assertFalse(signed_in(self.bob).get("/api/session").json()["operator"])
        self.assertTrue(self.client.get("/api/session").json()["operator"])

    def test_people_are_listed_with_what_they_keep_and_shut_out(self):
        ada, bob = self.told()["people"]
        self.assertEqual((ada["name"], ada["n_studies"], ada["n_tables"], ada["operator"]), ("ada", 1, 1, True))
        self.assertEqual((ada["bytes"], bob["bytes"]), (self.table.source.size, 0))
        theirs = signed_in(self.bob)
        self.assertEqual(self.change(self.bob, active=False, quota_mb=5).status_code, 204)
        self.assertEqual(theirs.get("/api/studies").status_code, 401)
        self.assertEqual(Event.objects.first().detail, "shut out; mb 5")
        self.assert_problem(self.change(self.owner, active=False), 422, "own-account")
        self.assertEqual(self.change(self.bob).status_code, 204)
        self.assertEqual(signed_in(User.objects.get(pk=self.bob.pk)).get("/api/studies").status_code, 200)

    def test_quotas_are_refused_in_words_and_hold_for_whoever_owns_the_study(self):
        def upload():
            return self.client.post(f"/api/studies/{self.study.pk}/uploads", {"file": as_file("a,b\n1,2\n", "x.csv")})

        brought = upload().json()["upload_id"]
        store = lambda: self.act(f"uploads/{brought}/store", {"name": "x", "choices": {}})  # noqa: E731
        self.change(self.owner, quota_tables=1)
        self.assert_problem(store(), 422, "quota")
        self.change(self.owner, quota_jobs=0)
        self.assert_problem(store(), 429, "quota")
        self.assertFalse(Job.objects.filter(name="x").exists())
        self.change(self.owner, quota_mb=0)
        answer = upload()
        self.assert_problem(answer, 413, "quota")
        self.assertIn("ada, who owns this study, may keep 0 MB", answer.json()["problem"])
        self.assertEqual(self.study.uploads.count(), 1)  # what was refused is not kept
        self.change(self.owner)
        self.assertEqual(store().status_code, 200)
        with self.settings(QUOTA_TABLES=2):
            brought = upload().json()["upload_id"]
            self.assert_problem(self.act(f"uploads/{brought}/store", {"name": "y", "choices": {}}), 422, "quota")

    @override_settings(OPERATORS_TWICE=True)
    def test_who_runs_it_takes_a_second_factor_where_that_is_said(self):
        self.assert_problem(self.client.get("/api/operating"), 403, "second-factor-needed")
        secret = self.act("session/second-factor", {}).json()["secret"]
        self.client.put("/api/session/second-factor", {"code": code_of(secret)}, content_type="application/json")
        self.assertEqual(self.client.get("/api/operating").status_code, 200)

    @override_settings(SIGN_UP="invited")
    def test_an_account_takes_an_invitation_which_holds_once(self):
        self.assertEqual(Client().get("/api/session").json()["sign_up"], "invited")
        made = self.act("operating/invitations", {"name": "Cyd of the lab", "days": 7}).json()
        secret = made["path"].removeprefix("/join/")
        self.assertNotIn(secret, str(vars(Invitation.objects.get())))

        def join(name, invitation):
            said = {"name": name, "password": "sea snail 1906", "invitation": invitation}
            return Client().post("/api/session/sign-up", said, content_type="application/json")

        self.assert_problem(join("cyd", ""), 403, "no-invitation")
        self.assert_problem(join("cyd", "wrong"), 403, "no-invitation")
        self.assert_problem(join("bob", secret), 409, "name-taken")  # and the invitation still holds
        self.assertEqual(join("cyd", secret).status_code, 200)
        self.assert_problem(join("dee", secret), 403, "no-invitation")
        self.assertEqual([one["used_by"] for one in self.told()["invitations"]], ["cyd"])
        again = self.act("operating/invitations", {"name": "Dee", "days": 7}).json()
        self.client.delete(f"/api/operating/invitations/{again['id']}")
        self.assert_problem(join("dee", again["path"].removeprefix("/join/")), 403, "no-invitation")
