"""Whatever is asked, the answer is one in words: no question may break the server."""

import itertools

from server.server_tests.cases import StudyCase, signed_in
from server.studies.models import Table

ODD = [
    "",
    "0",
    "-1",
    "1e400",
    "nan",
    "inf",
    "1e308",
    "5e-324",
    "'; drop table",
    "\x00",
    "é",
    "[]",
    "99999999999999999999",
]


class Questions(StudyCase):
    def setUp(self):
        super().setUp()
        self.client = signed_in(self.owner)
        self.client.raise_request_exception = False

    def ask(self, address: str, query: dict) -> None:
        response = self.client.get(address, query)
        said = f"{address} {query}: {response.status_code}"
        self.assertTrue(response.status_code == 200 or 400 <= response.status_code < 500, said)
        if response.status_code != 200:
            self.assertEqual(response["Content-Type"], "application/problem+json", said)

    def test_readings_with_odd_options(self):
        options = {
            "spread": ["level", "quantile_definition"],
            "classes": ["width", "start", "count", "rule", "closed"],
            "density": ["bandwidth", "kernel"],
            "normality": ["level"],
            "rows": ["low", "high", "closed", "level", "missing"],
            "counts": [],
            "definitions": [],
            "numbers.csv": ["width", "level"],
        }
        for name, names in options.items():
            for variable in ("mass", "tray", "when", "eggs", "", "\x00", "mass'--"):
                self.ask(self.address(name), {"variable": variable})
            for option, value in itertools.product(names, ODD):
                self.ask(self.address(name), {"variable": "mass", option: value})
            self.ask(self.address(name), {})

    def test_rows_with_odd_numbers(self):
        for numbers in (*ODD, "1,2,3", ",".join(["1"] * 5_000), "1;2", "-5,+3"):
            self.ask(f"/api/tables/{self.table.pk}/rows", {"numbers": numbers})

    def test_odd_addresses_and_bodies(self):
        for address in (
            "/api/tables/1",
            "/api/tables/x/rows",
            "/api/jobs/--",
            "/api/nothing",
            "/api/tables//readings/spread",
        ):
            self.assertIn(self.client.get(address).status_code, (404, 405, 422), address)
        for body in ("", "{", "[]", '{"text": 5}', '{"text": ""}', "null"):
            response = self.client.post(f"/api/studies/{self.study.pk}/pastes", body, content_type="application/json")
            self.assertIn(response.status_code, (400, 422), body)
        self.assertEqual(Table.objects.count(), 1)

    def test_no_text_with_nul_reaches_the_database(self):
        for address, body in (
            ("studies", {"title": "a\x00"}),
            ("session/sign-up", {"name": "a\x00", "password": "x" * 12}),
        ):
            response = self.client.post(f"/api/{address}", body, content_type="application/json")
            self.assert_problem(response, 422, "invalid-request")

    def test_names_are_data(self):
        name = "<script>alert(1)</script> ' \" \u202e"
        made = self.client.post("/api/studies", {"title": name}, content_type="application/json").json()
        self.assertEqual(made["title"], name.strip())
        self.assertEqual(self.client.get("/api/studies").json()[-1]["title"], name.strip())
