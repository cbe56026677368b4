"""Workbooks (XLSX): a sheet of one as the table that it would be as text. Values are taken as the program that wrote it last worked them out."""

from __future__ import annotations

import datetime
import io
import warnings
from typing import Any

from rigging.files.marked_up import unpacked
from rigging.quantities.faults import refuse

_MOST_ROWS, _MOST_COLUMNS = 5000, 200


def sheets_of(content: bytes) -> dict[str, list[tuple[str, ...]]]:
    """The rows of every sheet that has any, cells as text with a decimal point.

    Raises
    ------
    Refused
        If it can not be opened, or has more rows than a survey or a shelf of gear.
    """
    from openpyxl import load_workbook

    unpacked(content, "xlsx").close()
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            book = load_workbook(io.BytesIO(content), read_only=True, data_only=True, keep_links=False)
            found = {}
            for sheet in book.worksheets:
                rows = []
                for cells in sheet.iter_rows(values_only=True, max_col=_MOST_COLUMNS):
                    rows.append(tuple(_text(one) for one in cells))
                    if len(rows) > _MOST_ROWS:
                        raise refuse(
                            f"sheet {sheet.title!r}",
                            f"it has more than {_MOST_ROWS} rows",
                            "give those that are about this plan",
                        )
                while rows and not any(rows[-1]):
                    rows.pop()
                if rows:
                    found[sheet.title] = rows
    except (KeyError, ValueError, OSError, TypeError, AttributeError, IndexError) as error:
        if hasattr(error, "faults"):
            raise
        raise refuse(
            "xlsx", "it is no workbook that can be read", "save it again as XLSX, without a password"
        ) from error
    if not found:
        raise refuse("xlsx", "every sheet of it is empty", "a head that names the columns, and a row for each thing")
    return found


def _text(value: Any) -> str:
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, float):
        return f"{value:.15g}"
    if isinstance(value, (datetime.datetime, datetime.date, datetime.time)):
        return value.isoformat(sep=" ") if isinstance(value, datetime.datetime) else value.isoformat()
    return str(value).strip()
