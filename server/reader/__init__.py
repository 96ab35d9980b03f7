"""Files opened apart: each in a process of its own, with limits that the system sets, which dies alone.

`asking` is the side of whoever wants a file opened; `standby` is the process that stands by, with everything loaded,
and is doubled for each file; `work` is what is done there; `parcel` is how a table comes back. Nothing here knows
Django, and what opens a file knows neither the database nor the secrets of the server.
"""

from server.reader.asking import Package, TookLonger, read, tables_of, unpacked, warm

__all__ = ["Package", "TookLonger", "read", "tables_of", "unpacked", "warm"]
