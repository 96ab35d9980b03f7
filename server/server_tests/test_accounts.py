from datetime import timedelta

from django.test import Client, TestCase, override_settings
from django.utils import timezone

from server import settings
from server.accounts.models import Attempt, User
from server.accounts.rates import forget_old_attempts
from server.server_tests.cases import person, signed_in

GOOD = {"name": "grace", "password": "sea snail 1906"}


def post(client: Client, path: str, body: dict, **extra):
    return client.post(f"/api/session/{path}", body, content_type="application/json", **extra)


class Listing(TestCase):
    def test_what_a_reading_lists_is_kept_with_the_person(self):
        client = signed_in(person("ada"))
        self.assertIsNone(client.get("/api/session").json()["listed"])
        study = "7b7f6c9e-0000-4000-8000-000000000000"
        lists = {study: {"statistics": ["mean", "sd"], "percents": [5, 95]}, "": {"statistics": [], "percents": []}}
        wanted = {"lists": lists, "reasons": ["balance drifted"]}
        client.put("/api/session/listed", wanted, content_type="application/json")
        self.assertEqual(client.get("/api/session").json()["listed"], wanted)
        self.assertIsNone(signed_in(person("bob")).get("/api/session").json()["listed"])
        before = person("cyd")  # kept before studies had lists of their own
        before.listed = {"statistics": None, "percents": [2.5], "reasons": None}
        before.save()
        told = signed_in(before).get("/api/session").json()["listed"]
        self.assertEqual(told, {"lists": {"": {"statistics": None, "percents": [2.5]}}, "reasons": None})
        wrong = client.put("/api/session/listed", {"lists": {"": {"percents": [101]}}}, content_type="application/json")
        self.assertEqual(wrong.status_code, 422)
        self.assertEqual(Client().put("/api/session/listed", wanted, content_type="application/json").status_code, 401)

    def test_the_demo_account_keeps_nothing(self):
        client = Client()
        client.post("/api/session/demo", content_type="application/json")
        client.put("/api/session/listed", {"percents": [5]}, content_type="application/json")
        self.assertIsNone(client.get("/api/session").json()["listed"])


class SigningUpAndIn(TestCase):
    @override_settings(PASSWORD_HASHERS=settings.PASSWORD_HASHERS)
    def test_a_new_person_signs_up_out_and_in_again(self):
        signed_up = post(self.client, "sign-up", GOOD)
        self.assertEqual((signed_up.status_code, signed_up.json()["name"]), (200, "grace"))
        cookie = signed_up.cookies["sessionid"]
        self.assertTrue(cookie["httponly"])
        self.assertEqual(cookie["samesite"], "Lax")
        self.assertTrue(User.objects.get().password.startswith("argon2"))
        self.assertEqual(post(self.client, "sign-out", {}).json()["name"], None)
        self.assertEqual(self.client.get("/api/studies").status_code, 401)
        self.assertEqual(post(self.client, "sign-in", GOOD).json()["name"], "grace")

    def test_weak_passwords_and_taken_names_are_refused_in_words(self):
        for password in ("short", "qwertyuiop", "1234567890", "aaaaaaaaaaaa", "abababab1212"):
            refused = post(self.client, "sign-up", {**GOOD, "password": password})
            self.assertEqual((refused.status_code, refused.json()["code"]), (422, "password"))
        person("Grace")
        for name in ("grace", "DEMO"):
            refused = post(self.client, "sign-up", {**GOOD, "name": name})
            self.assertEqual((refused.status_code, refused.json()["code"]), (409, "name-taken"))

    def test_guessing_is_throttled_and_does_not_lock_out_others(self):
        person("ada")
        person("ben")
        wrong = {"name": "ada", "password": "not this one"}
        answers = [post(self.client, "sign-in", wrong).status_code for _ in range(7)]
        self.assertEqual(answers[:5], [401] * 5)
        self.assertEqual(answers[-1], 429)
        right = {"name": "ada", "password": "a long enough password"}
        self.assertEqual(post(self.client, "sign-in", right).json()["code"], "locked-out")
        self.assertEqual(post(self.client, "sign-in", {**right, "name": "ben"}).status_code, 200)

    def test_one_password_for_many_names_and_many_sign_ups_are_throttled_by_address(self):
        ben = person("ben")
        for i in range(30):
            refused = post(self.client, "sign-in", {"name": f"name {i}", "password": "spring 2026!"})
            self.assertEqual(refused.status_code, 401)
        refused = post(self.client, "sign-in", {"name": "name 31", "password": "spring 2026!"})
        self.assertEqual((refused.status_code, refused.json()["code"]), (429, "too-often"))
        self.assertEqual(refused["Retry-After"], "900")
        right = {"name": "ben", "password": "a long enough password"}
        self.assertEqual(post(Client(REMOTE_ADDR="192.0.2.7"), "sign-in", right).status_code, 200)
        for i in range(10):
            self.assertEqual(post(Client(), "sign-up", {**GOOD, "name": f"grace{i}"}).status_code, 200)
        self.assertEqual(post(Client(), "sign-up", GOOD).status_code, 429)
        self.assertEqual(post(Client(REMOTE_ADDR="192.0.2.7"), "sign-up", GOOD).status_code, 200)
        # An hour later nothing of it is left.
        Attempt.objects.update(at=timezone.now() - timedelta(hours=2))
        forget_old_attempts()
        self.assertFalse(Attempt.objects.exists())
        self.assertTrue(ben.is_active)

    def test_other_sites_cannot_act_for_a_person(self):
        careful = Client(enforce_csrf_checks=True)
        self.assertEqual(post(careful, "sign-up", GOOD).status_code, 403)
        careful.get("/")  # the page brings the token
        token = careful.cookies["csrftoken"].value
        self.assertEqual(post(careful, "sign-up", GOOD, headers={"X-CSRFToken": token}).status_code, 200)
        refused = careful.post("/api/studies", {"title": "x"}, content_type="application/json")
        self.assertEqual(refused.status_code, 403)


class Demo(TestCase):
    def test_the_demo_study_is_there_in_demo_mode(self):
        self.assertEqual(post(self.client, "demo", {}).json()["is_demo"], True)
        (study,) = self.client.get("/api/studies").json()
        self.assertEqual(study["title"], "Ellery Sound")
        rows = {table["name"]: table["n_rows"] for table in study["tables"]}
        self.assertEqual(rows["Oyster nursery"], 416)
        self.assertEqual((rows["Night bus"], rows["Cleaning trials"], len(rows)), (10_400, 14, 5))
        self.assertEqual(post(Client(), "demo", {}).status_code, 200)
        self.assertEqual(len(self.client.get("/api/studies").json()), 1)

    @override_settings(DEMO="off")
    def test_and_does_not_exist_elsewhere(self):
        self.assertEqual(post(self.client, "demo", {}).status_code, 404)
        self.assertFalse(User.objects.exists())
        post(self.client, "sign-up", GOOD)
        self.assertEqual([study["tables"] for study in self.client.get("/api/studies").json()], [[]])

    def test_nobody_signs_in_as_demo_with_a_password(self):
        post(self.client, "demo", {})
        refused = post(Client(), "sign-in", {"name": "demo", "password": "demo"})
        self.assertEqual(refused.status_code, 401)


class Page(TestCase):
    def test_the_page_carries_a_policy_without_inline_scripts_or_foreign_origins(self):
        response = self.client.get("/tables/some-bookmarked/spread?variable=x")
        self.assertEqual(response.status_code, 200)
        policy = response["Content-Security-Policy"]
        self.assertIn("default-src 'none'", policy)
        self.assertIn("script-src 'self';", policy + ";")
        self.assertNotIn("unsafe", policy)
        self.assertNotIn("http", policy)
        page = response.content.decode()
        nonce = policy.split("'nonce-")[1].split("'")[0]
        self.assertIn(f'content="{nonce}"', page)
        self.assertNotIn("<script>", page)
        self.assertEqual(response["X-Frame-Options"], "DENY")
        self.assertEqual(self.client.get("/api/nothing").status_code, 404)

    def test_what_is_no_page_is_not_here_and_nothing_is_open_to_others(self):
        for address in ("/admin", "/admin/login/", "/security.txt", "/.well-known/security.txt", "/wp-login.php"):
            self.assertEqual(self.client.get(address).status_code, 404, address)
        robots = self.client.get("/robots.txt")
        self.assertEqual((robots.status_code, robots.content), (200, b"User-agent: *\nDisallow: /\n"))
        for address in ("/", "/api/session", "/robots.txt"):
            answer = self.client.get(address)
            self.assertIn("geolocation=()", answer["Permissions-Policy"])
            self.assertEqual(answer["Cross-Origin-Resource-Policy"], "same-origin")
            self.assertNotIn("Access-Control-Allow-Origin", answer)
        told = self.client.get("/api/session")
        self.assertEqual(told["Cache-Control"], "no-store")
        self.assertTrue(told["Content-Disposition"].startswith("attachment"))  # opened as a page it is a file
        self.assertFalse(settings.WHITENOISE_ALLOW_ALL_ORIGINS)
