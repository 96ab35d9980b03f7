"""The demo study as whoever looks around finds it: worked through, with nothing that cannot be made."""

from heron import report as core

from server.demo import services as demo
from server.ledger.models import Entry
from server.reports.selectors import composed, document_of
from server.server_tests.cases import StudyCase, person


class Demo(StudyCase):
    def test_everything_in_it_can_be_made_and_stands_as_its_report_says(self):
        study = demo.load_worked(person("dora"))
        self.assertEqual((study.plates.count(), study.table_plates.count()), (8, 2))
        self.assertEqual(Entry.objects.filter(table__study=study).count(), 3)
        report = study.reports.get()
        made = composed(study.owner, study, document_of(report))
        findings = core.check(made.report, report.document, made.moved)
        self.assertEqual([finding.words for finding in findings if not finding.holds], [])
        self.assertEqual(len(made.report.labels), 7)
        self.assertEqual(demo.load_worked(study.owner), study)
        self.assertEqual(study.plates.count(), 8)
