"""Whatever a person may not see does not exist; whoever may only look cannot change."""

from server.server_tests.cases import SMALL, StudyCase, as_file, person, signed_in, stored
from server.studies.models import ClassStructure, Job, Membership, Table, Upload
from server.studies.services import bring_in


class Strangers(StudyCase):
    def addresses(self):
        upload = bring_in(self.owner, self.study, "x.csv", [SMALL.encode()], print).upload
        job = Job.objects.create(study=self.study, upload=upload, name="x")
        structure = ClassStructure.objects.create(study=self.study, name="x", boundaries=[0, 1], closed="left")
        table = f"/api/tables/{self.table.pk}"
        readings = ("spread", "classes", "density", "normality", "counts", "definitions", "rows", "numbers.csv")
        readings += ("against", "order", "times")
        return [
            ("get", table),
            ("delete", table),
            ("get", f"{table}/rows?numbers=1"),
            ("get", f"{table}/file?form=csv"),
            *(("get", f"{table}/readings/{name}?variable=mass") for name in readings),
            *(
                ("get", f"{table}/readings/{name}")
                for name in ("split?variable=mass&by=tray", "cross?variable=mass&by=tray", "overview")
            ),
            *(
                ("get", f"{table}/readings/{name}")
                for name in ("intervals?variable=mass", "line-up?variable=mass&seed=1")
            ),
            *(
                ("get", f"{table}/readings/{name}")
                for name in (
                    "compare?variable=mass&by=tray",
                    "differences?variable=mass&by=tray",
                    "shares?variable=tray&by=tray",
                    "estimates?of=mass",
                    "screen?variable=mass",
                    "relation?response=mass&predictors=tray",
                    "pairs?x=mass&y=mass",
                    "correlations?x=mass&y=mass",
                    "matrix?variables=mass&variables=tray",
                    "straighten?x=mass&y=mass",
                    "fits?x=mass&y=mass",
                    "predict?x=mass&y=mass&value=1",
                )
            ),
            ("get", f"{table}/grid/sought?text=a"),
            ("get", f"{table}/stems"),
            ("post", f"/api/studies/{self.study.pk}/made"),
            ("post", f"/api/studies/{self.study.pk}/made/preview"),
            ("post", f"{table}/ledger/line-up"),
            ("post", f"/api/studies/{self.study.pk}/pastes"),
            ("post", f"/api/uploads/{upload.pk}/preview"),
            ("post", f"/api/uploads/{upload.pk}/store"),
            ("get", f"/api/jobs/{job.pk}"),
            ("post", f"/api/jobs/{job.pk}/stop"),
            ("get", f"{table}/ledger"),
            ("get", f"{table}/grid"),
            ("get", f"{table}/audit"),
            ("post", f"{table}/ledger"),
            ("post", f"{table}/ledger/undo"),
            ("post", f"{table}/ledger/describe"),
            ("post", f"{table}/ledger/redo"),
            ("post", f"{table}/ledger/correct"),
            ("post", f"{table}/ledger/losses"),
            ("post", f"{table}/ledger/derive"),
            ("post", f"{table}/ledger/take-away"),
            ("get", f"/api/studies/{self.study.pk}/classes"),
            ("post", f"/api/studies/{self.study.pk}/classes"),
            ("delete", f"/api/classes/{structure.pk}"),
            ("post", f"{table}/uploads"),
            ("post", f"/api/uploads/{upload.pk}/store-again"),
        ]

    def test_another_persons_study_is_not_found_anywhere(self):
        stranger = signed_in(person("eve"))
        for method, address in self.addresses():
            with self.subTest(f"{method} {address}"):
                cells = [{"variable": "mass", "row": 1, "text": "1"}]
                body = {"text": "a\n1", "name": "pasted.txt", "choices": {}, "kind": "put-back", "rows": [1]}
                body |= {"revision": 1, "variable": "mass", "changes": {}, "cells": cells}
                if method == "post" and address.endswith("/derive"):
                    body |= {"of": "mass", "label": "x", "way": {"how": "classes", "boundaries": [0, 1]}}
                    extra = {"data": body, "content_type": "application/json"}
                    self.assertEqual(stranger.post(address, **extra).status_code, 404)
                    continue
                body |= {"boundaries": [0, 1]}
                body |= {
                    "of": [str(self.table.pk)],
                    "options": {"how": "stack"},
                    "seed": 1,
                    "place": 1,
                    "seen_before": True,
                }
                extra = {"data": body, "content_type": "application/json"} if method == "post" else {}
                self.assertEqual(getattr(stranger, method)(address, **extra).status_code, 404)
        self.assertEqual(stranger.get("/api/studies").json(), [])
        self.assertTrue(Table.objects.filter(pk=self.table.pk).exists())

    def test_nobody_sees_anything_without_signing_in(self):
        self.client.logout()
        for method, address in [*self.addresses(), ("get", "/api/studies")]:
            response = getattr(self.client, method)(address, content_type="application/json")
            self.assert_problem(response, 401, "signed-out")

    def test_a_viewer_looks_but_does_not_change(self):
        viewer = person("vera")
        Membership.objects.create(study=self.study, user=viewer, role=Membership.Role.VIEWER)
        client = signed_in(viewer)
        self.assertEqual(client.get(f"/api/tables/{self.table.pk}").status_code, 200)
        self.assert_problem(client.delete(f"/api/tables/{self.table.pk}"), 403, "not-allowed")
        sent = client.post(f"/api/studies/{self.study.pk}/uploads", {"file": as_file(SMALL, "x.csv")})
        self.assert_problem(sent, 403, "not-allowed")
        self.assertFalse(Upload.objects.exists())

    def test_the_same_symbol_in_two_tables_is_two_variables(self):
        other = stored(person("ben"), "mass\n1\n2\n3\n")
        mine = self.reading("spread", "mass")
        theirs = signed_in(other.study.owner).get(f"/api/tables/{other.pk}/readings/spread?variable=mass")
        self.assertNotEqual(mine["summary"]["n"], 3)
        self.assertEqual(theirs.status_code, 200)
