from django.db import models

from server.plates.models import Kept
from server.studies.models import Study


class Report(Kept):
    """Figures, tables of numbers and words in an order."""

    study = models.ForeignKey(Study, on_delete=models.CASCADE, related_name="reports")


class ReportFile(models.Model):
    """A report as it was made in one form. key: a digest of all that it was made of."""

    report = models.ForeignKey(Report, on_delete=models.CASCADE, related_name="files")
    form = models.CharField(max_length=4)
    key = models.CharField(max_length=64)
    made = models.DateTimeField(auto_now=True)
    body = models.BinaryField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["report", "form"], name="one_file_of_each_form")]


class ReportPage(models.Model):
    """A page of a report as a picture (PNG), as it was made as PDF. number: from 1."""

    file = models.ForeignKey(ReportFile, on_delete=models.CASCADE, related_name="pages")
    number = models.PositiveIntegerField()
    body = models.BinaryField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["file", "number"], name="each_page_once")]
