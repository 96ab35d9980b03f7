"""Reports: figures, tables of numbers and words in an order, that refer to each other by number, and how they leave.

A document is plain data (the JSON that a report is kept as); what it comes to, once figures and tables have their
numbers, is a `Report`; `write` makes a file of it.
"""

from heron.report.composing import compose
from heron.report.record import Block, Failed, Heading, KeptFigure, KeptTable, Listed, Paragraph, Report, Run
from heron.report.sections import HEADINGS, SECTIONS
from heron.report.words import ReportFinding, check
from heron.report.writing import FORMS, TYPES, write

__all__ = [
    "FORMS",
    "HEADINGS",
    "SECTIONS",
    "TYPES",
    "Block",
    "Failed",
    "Heading",
    "KeptFigure",
    "KeptTable",
    "Listed",
    "Paragraph",
    "Report",
    "ReportFinding",
    "Run",
    "check",
    "compose",
    "write",
]
