"""Every operation answers as the API's document says, whatever it is sent: no error of the server, no status and no
shape that the document does not know."""

import logging
import os
from collections.abc import Callable
from typing import Any

import schemathesis
from django.core import signals
from django.db import close_old_connections, transaction
from heron.figure import styles
from hypothesis import HealthCheck, Phase, given, settings
from hypothesis import strategies as st
from schemathesis.checks import (
    content_type_conformance,
    not_a_server_error,
    response_schema_conformance,
    status_code_conformance,
)
from schemathesis.core.failures import FailureGroup

from server.demo import services as demo
from server.plates.documents import PlateDocument
from server.plates.services import keep
from server.server_tests.cases import SMALL, StudyCase, person, signed_in
from server.studies import services
from server.studies.models import Study
from server.wsgi import application

EXAMPLES = int(os.environ.get("HERON_EXAMPLES", "4"))  # for each operation; a hundred when one looks closely
CHECKS = [not_a_server_error, status_code_conformance, content_type_conformance, response_schema_conformance]
SYMBOLS = ("shell_mass", "shell_length", "tray_type", "week", "drill_holes", "vigour", "nothing_of_this_name", "")
NAMED = {"variable", "x", "y", "by", "second", "of", "pair", "unit", "within", "order", "weight", "label", "heading"}


class Document(StudyCase):
    @classmethod
    def setUpTestData(cls) -> None:
        super().setUpTestData()
        cls.someone = person("eve")
        demo.load(cls.someone)
        study: Study = cls.someone.memberships.get().study
        table = study.tables.get(name="Oyster nursery")
        upload = services.bring_in(cls.someone, study, "more.csv", [SMALL.encode()], print).upload
        source = {"kind": "pair", "table": str(table.pk), "x": "shell_length", "y": "shell_mass", "lines": []}
        said = {"style": styles.ON_SCREEN, "panels": [{"source": source}]}
        plate = keep(cls.someone, study, "Pairs", "", PlateDocument.model_validate(said))
        cls.ids = {"study_id": study.pk, "table_id": table.pk, "upload_id": upload.pk, "plate_id": plate.pk}

    def setUp(self) -> None:
        super().setUp()
        cookies = signed_in(self.someone).cookies
        token = "x" * 32
        self.headers = {"X-CSRFToken": token}
        self.cookies = {name: cookie.value for name, cookie in cookies.items()} | {"csrftoken": token}
        # What ends a request would close the connection in which the test is rolled back.
        for signal in (signals.request_started, signals.request_finished):
            signal.disconnect(close_old_connections)
            self.addCleanup(signal.connect, close_old_connections)
        logging.disable(logging.CRITICAL)
        self.addCleanup(logging.disable, logging.NOTSET)

    def test_every_operation_answers_as_the_document_says(self) -> None:
        document = schemathesis.openapi.from_wsgi("/api/openapi.json", application)
        operations = [result.ok() for result in document.get_all_operations()]
        self.assertGreater(len(operations), 100)
        broken = []
        for operation in operations:
            if operation.path in ("/api/session/sign-out", "/api/session/demo"):  # which end the session asked in
                continue
            try:
                self.exercise(operation)
            except FailureGroup as group:
                broken += [f"{operation.label}: {group}"]
        self.assertEqual("\n".join(broken), "")

    def exercise(self, operation: Any) -> None:
        @settings(
            max_examples=EXAMPLES, deadline=None, derandomize=True, database=None, phases=[Phase.generate],
            suppress_health_check=list(HealthCheck),
        )  # fmt: skip
        @given(case=operation.as_strategy(), data=st.data())
        def answers(case: Any, data: st.DataObject) -> None:
            for name in case.path_parameters or {}:
                if name in self.ids and data.draw(st.integers(0, 9)):
                    case.path_parameters[name] = str(self.ids[name])
            for name, value in (case.query or {}).items():
                if name in NAMED and isinstance(value, str) and data.draw(st.integers(0, 9)):
                    case.query[name] = data.draw(st.sampled_from(SYMBOLS))
            with transaction.atomic():
                case.call_and_validate(headers=self.headers, cookies=self.cookies, checks=CHECKS)
                transaction.set_rollback(True)

        run: Callable[[], None] = answers
        run()
