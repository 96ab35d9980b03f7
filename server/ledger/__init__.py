"""Decisions on tables, with reason, author and time; entries are only ever added."""
