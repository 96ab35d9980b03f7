"""A file on its way in: looked at, asked about, stored by whoever says so, or refused."""

import re
from datetime import timedelta
from unittest.mock import patch

from django.db import OperationalError
from django.test import override_settings
from django.utils import timezone
from heron import intake, writing
from procrastinate.contrib.django.models import ProcrastinateJob

from server import reader
from server.accounts.models import Attempt
from server.ledger.tasks import take_up_jobs
from server.operating.tasks import sweep
from server.server_tests.cases import SMALL, StudyCase, as_file
from server.studies import services
from server.studies.models import Chunk, Job, SourceFile, Table, Upload
from server.studies.snapshots import TableSnapshot

ODD = "len;mass\n1,5;2\n2,5;<0.5\n-99;3\n" + "".join(f"{i},5;{i}\n" for i in range(2, 14))


class Bringing(StudyCase):
    def bring(self, data: str | bytes, name: str = "odd.csv"):
        return self.client.post(f"/api/studies/{self.study.pk}/uploads", {"file": as_file(data, name)})

    def test_from_file_to_table_with_answers_on_the_way(self):
        preview = self.bring(ODD).json()
        self.assertEqual(preview["found"]["delimiter"]["value"], ";")
        self.assertIn("comma", preview["found"]["decimal"]["why"])
        self.assertEqual(preview["rows"][0]["cells"], ["1.5", "2"])
        asked = {problem["symbol"]: problem for problem in preview["problems"]}
        self.assertEqual((asked["mass"]["count"], asked["mass"]["rows"]), (1, [2]))
        self.assertEqual(asked["len"]["rows"], [3])
        self.assertEqual(Table.objects.count(), 1)  # nothing is stored until the user says so

        ways = [way for symbol in ("len", "mass") for way in asked[symbol]["remedies"] if way["missing_codes"]]
        codes = [code for way in ways for code in way["missing_codes"]]
        choices = {"missing_codes": codes, "kinds": {"mass": "continuous"}}
        again = self.act(f"uploads/{preview['upload_id']}/preview", choices).json()
        self.assertEqual(again["problems"], [])
        self.assertEqual([v["missing_counts"] for v in again["variables"]], [{"-99": 1}, {"<0.5": 1}])
        self.assertEqual(again["missing"][2], [True, False])

        job = self.act(f"uploads/{preview['upload_id']}/store", {"name": "Odd ones", "choices": choices}).json()
        self.assertEqual(job["state"], "done")
        table = self.client.get(f"/api/tables/{job['table_id']}").json()
        self.assertEqual((table["name"], table["n_rows"], table["source"]), ("Odd ones", 15, "odd.csv"))
        self.assertEqual(table["source_sha256"], preview["sha256"])
        rows = self.client.get(f"/api/tables/{job['table_id']}/rows?numbers=3,1,99,x").json()
        self.assertEqual([(row["row"], row["cells"]) for row in rows], [(3, ["-99", "3"]), (1, ["1.5", "2"])])
        self.assertFalse(Upload.objects.exists())

    def test_several_tables_on_one_sheet_become_a_table_each(self):
        text = "time,rate\n0,2.5\n4,3.5\nSE,\ntime,rate\n0,0.5\n4,0.25\n"
        preview = self.bring(text, "rates.csv").json()
        (asked,) = [problem for problem in preview["problems"] if problem["code"] == "several-tables"]
        self.assertEqual([way["parts"] for way in asked["remedies"]], ["joined", "stacked", "apart", "one"])
        wish = {"name": "Rates", "choices": {"parts": "apart"}}
        job = self.act(f"uploads/{preview['upload_id']}/store", wish).json()
        first, second = Table.objects.filter(source__name="rates.csv").order_by("name")
        self.assertEqual((str(first.pk), first.name, second.name), (job["table_id"], "Rates", "Rates, SE"))
        for table, part, value in ((first, "1", 3.5), (second, "2", 0.25)):
            self.assertEqual((table.n_rows, table.imports[0]["choices"]["parts"]), (2, part))
            self.assertEqual(TableSnapshot.of(table).active()["rate"].values[1], value)
        again = self.act(f"tables/{second.pk}/uploads", {}).json()
        self.assertEqual(again["rows"][1]["cells"], ["4", "0.25"])
        sent = self.act(f"uploads/{again['upload_id']}/store-again", {"choices": {"parts": "apart"}}).json()
        self.assertIn("stays one table", sent["problem"])

    def test_pasted_text_is_a_file_too(self):
        preview = self.act(f"studies/{self.study.pk}/pastes", {"text": "dose\tyield (kg)\n0\t3.1\n5\t3.8\n"}).json()
        self.assertEqual([v["unit"] for v in preview["variables"]], ["", "kg"])
        self.assertEqual(preview["file_name"], "pasted.txt")

    def test_a_workbook_by_its_sheets_and_back_out_in_every_format(self):
        core = intake.read(SMALL.encode(), "Small.csv").table
        preview = self.bring(writing.write(core, "xlsx"), "small.xlsx").json()
        self.assertEqual(preview["found"]["format"]["value"], "workbook (.xlsx)")
        self.assertEqual(preview["found"]["block"]["value"], [1, 31, 1, 4])
        part = self.act(f"uploads/{preview['upload_id']}/preview", {"block": [1, 11, 1, 2]}).json()
        self.assertEqual((part["n_rows"], len(part["variables"])), (10, 2))
        job = self.act(
            f"uploads/{preview['upload_id']}/store", {"name": "A/b \u0142", "choices": {"block": [1, 11, 1, 2]}}
        ).json()
        for form in writing.FORMATS:
            answer = self.client.get(f"/api/tables/{job['table_id']}/file", {"form": form})
            self.assertEqual(answer.status_code, 200)
            self.assertRegex(answer["Content-Disposition"], r'filename="a-b\.(\w+)"')
            back = intake.read(answer.content, f"x.{form}").table
            self.assertEqual((back.n_rows, len(back.columns)), (10, 2))
        self.assert_problem(
            self.client.get(f"/api/tables/{job['table_id']}/file", {"form": "xls"}), 422, "invalid-request"
        )

    def test_what_is_no_table_is_refused_and_not_kept(self):
        before = SourceFile.objects.count()
        for data, code in (
            (b"", "empty-file"),
            (b"%PDF-1.5 x", "unknown-format"),
            (b"a,b\n\x00,1\n", "nul-characters"),
        ):
            said = self.assert_problem(self.bring(data), 400, code)
            self.assertTrue(said["problem"].endswith("."))
        self.assertEqual((SourceFile.objects.count(), Upload.objects.count()), (before, 0))

    def test_a_wrong_choice_is_said_and_changes_nothing(self):
        preview = self.bring(ODD.replace("mass", "maß").encode("latin-1")).json()
        wrong = self.act(f"uploads/{preview['upload_id']}/preview", {"encoding": "utf-8"})
        self.assert_problem(wrong, 400, "wrong-encoding")
        self.assert_problem(
            self.act(f"uploads/{preview['upload_id']}/preview", {"decimal": ":"}), 422, "invalid-request"
        )
        self.assertEqual(self.act(f"uploads/{preview['upload_id']}/preview", {}).json()["n_rows"], 15)

    @override_settings(UPLOAD_LIMIT=2_000)
    def test_an_upload_beyond_the_limit_is_refused_by_its_length_and_by_its_bytes(self):
        self.assert_problem(self.bring("a\n" + "1\n" * 3_000), 413, "too-large")
        huge = self.client.post(
            f"/api/studies/{self.study.pk}/uploads", b"", content_type="text/plain", CONTENT_LENGTH=str(10**9)
        )
        self.assert_problem(huge, 413, "too-large")

    def test_files_that_are_only_looked_at_make_room_and_go_after_a_day(self):
        for i in range(services.MOST_LOOKED_AT + 2):
            services.bring_in(self.owner, self.study, f"{i}.csv", [SMALL.encode()], print)
        names = Upload.objects.order_by("created").values_list("file__name", flat=True)
        self.assertEqual((len(names), names[0]), (services.MOST_LOOKED_AT, "2.csv"))
        waiting = Upload.objects.get(file__name="5.csv")
        with override_settings(STORE_AT_ONCE_BYTES=0):
            services.start_storing(self.owner, waiting, "Big", {}, lambda job: None)
        Upload.objects.update(created=timezone.now() - timedelta(days=2))
        sweep(0)
        self.assertEqual(Upload.objects.get(), waiting)
        self.assertEqual(SourceFile.objects.count(), 2)  # with that of the table that is stored

    def test_uploads_beyond_a_rate_are_refused_until_later(self):
        Attempt.objects.bulk_create(Attempt(kind="upload", address="192.0.2.7", name="ada") for _ in range(200))
        refused = self.client.post(f"/api/studies/{self.study.pk}/uploads", {"file": as_file(SMALL, "one.csv")})
        self.assert_problem(refused, 429, "too-often")
        self.assertEqual(refused["Retry-After"], "600")


class Jobs(StudyCase):
    def setUp(self):
        super().setUp()
        self.upload = services.bring_in(self.owner, self.study, "big.csv", [SMALL.encode()], print).upload

    def start(self, **choices) -> Job:
        self.deferred = []
        with override_settings(STORE_AT_ONCE_BYTES=0):
            return services.start_storing(self.owner, self.upload, "Big", choices, self.deferred.append)

    def test_a_large_file_waits_for_the_worker(self):
        job = self.start()
        self.assertEqual((job.state, self.deferred), ("waiting", [job]))
        services.run_storing(job)
        answer = self.client.get(f"/api/jobs/{job.pk}").json()
        self.assertEqual((answer["state"], answer["progress"]), ("done", 1.0))
        services.run_storing(job)  # a job that comes twice is done once
        self.assertEqual(Table.objects.filter(name="Big").count(), 1)

    def test_stopped_while_it_waits_and_while_it_runs(self):
        waiting = self.start()
        self.assertEqual(self.client.post(f"/api/jobs/{waiting.pk}/stop").json()["state"], "stopped")
        services.run_storing(waiting)
        running = self.start()
        chunks = Chunk.objects.count()
        create = services.Variable.objects.bulk_create

        def stop_meanwhile(variables):
            Job.objects.filter(pk=running.pk).update(stop_requested=True)
            return create(variables)

        with patch.object(services.Variable.objects, "bulk_create", stop_meanwhile):
            services.run_storing(running)
        running.refresh_from_db()
        self.assertEqual((running.state, running.table), ("stopped", None))
        self.assertEqual((Table.objects.count(), Chunk.objects.count()), (1, chunks))
        self.assertTrue(Upload.objects.filter(pk=self.upload.pk).exists())

    def test_a_failure_says_why_and_leaves_nothing(self):
        job = self.start(encoding="utf-16")
        services.run_storing(job)
        answer = self.client.get(f"/api/jobs/{job.pk}").json()
        self.assertEqual((answer["state"], answer["table_id"]), ("failed", None))
        self.assertIn("utf-16", answer["problem"])
        self.assertEqual(Table.objects.count(), 1)

    def silent(self, job: Job, **said) -> Job:
        """The job, as a worker that was killed left it."""
        Job.objects.filter(pk=job.pk).update(touched=timezone.now() - timedelta(minutes=5), **said)
        return job

    def taken_up(self) -> list[Job]:
        result = []
        services.take_up(result.append)
        return result

    def test_a_job_whose_worker_was_killed_is_taken_up_and_done(self):
        job = self.silent(self.start(), state="running", tries=1)
        self.assertEqual(self.taken_up(), [job])
        self.assertEqual(self.taken_up(), [])  # it waits, not silent any more
        services.run_storing(job)
        self.assertEqual((job.state, job.tries, job.table.name), ("done", 2, "Big"))

    def test_a_job_that_nobody_was_told_of_is_told_of_again(self):
        job = self.silent(self.start())
        self.assertEqual(self.taken_up(), [job])
        take_up_jobs()
        self.silent(job)
        for _ in range(3):
            take_up_jobs()
        self.assertEqual(ProcrastinateJob.objects.filter(args__job_id=str(job.pk)).count(), 1)

    def test_one_that_ends_its_worker_each_time_and_one_to_be_stopped_end(self):
        fatal, stopped = self.start(), self.start()
        self.silent(fatal, state="running", tries=services.MOST_TRIES)
        self.silent(stopped, state="running", stop_requested=True)
        self.assertEqual(self.taken_up(), [])
        states = [self.client.get(f"/api/jobs/{job.pk}").json()["state"] for job in (fatal, stopped)]
        self.assertEqual(states, ["interrupted", "stopped"])

    def test_who_was_only_slow_stores_nothing_twice(self):
        job = self.start()

        read = reader.read

        def begun_again(*given, **choices):
            Job.objects.filter(pk=job.pk).update(tries=2)
            return read(*given, **choices)

        with patch.object(services.reader, "read", begun_again):
            services.run_storing(job)
        job.refresh_from_db()
        self.assertEqual((job.state, job.table, Upload.objects.count()), ("running", None, 1))
        self.assertEqual(Table.objects.count(), 1)

    def test_what_fails_unexpectedly_says_so_under_a_number_that_stands_in_the_log(self):
        job = self.start()
        with (
            self.assertLogs("server.studies.services", "ERROR") as logged,
            self.assertRaises(ZeroDivisionError),
            patch.object(services.reader, "read", side_effect=ZeroDivisionError),
        ):
            services.run_storing(job)
        answer = self.client.get(f"/api/jobs/{job.pk}").json()
        self.assertEqual(answer["state"], "failed")
        self.assertIn(re.search("number ([0-9a-f]{8})", answer["problem"])[1], logged.output[0])

    def test_one_whose_database_went_away_is_taken_up_when_it_is_back(self):
        job = self.start()
        with patch.object(services.reader, "read", side_effect=OperationalError), self.assertRaises(OperationalError):
            services.run_storing(job)
        job.refresh_from_db()
        self.assertEqual(job.state, "running")
        self.assertEqual(self.taken_up(), [])
        self.silent(job)
        self.assertEqual(self.taken_up(), [job])
        services.run_storing(job)
        self.assertEqual(job.state, "done")

    def test_a_study_with_a_dead_job_can_be_removed(self):
        job = self.start()
        Job.objects.filter(pk=job.pk).update(state="running", touched=timezone.now())
        self.assert_problem(self.client.delete(f"/api/studies/{self.study.pk}"), 409, "at-work")
        self.silent(job)
        self.assertEqual(self.client.delete(f"/api/studies/{self.study.pk}").status_code, 204)

    def test_a_new_file_is_no_other_reading_of_a_table(self):
        sent = self.act(f"uploads/{self.upload.pk}/store-again", {"choices": {}})
        self.assert_problem(sent, 422, "not-again")
        looked = self.act(f"tables/{self.table.pk}/uploads", {}).json()["upload_id"]
        self.assert_problem(self.act(f"uploads/{looked}/store", {"name": "x", "choices": {}}), 422, "again")
