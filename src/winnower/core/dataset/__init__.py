"""Data for statistics programs: a row for each text, sentence, passage or decision, every column described."""

from winnower.core.dataset.columns import (
    About,
    DataColumn,
    Names,
    field_column,
    frame,
    looked_up_column,
    own_column,
    target_columns,
)
from winnower.core.dataset.request import (
    DataRequest,
    RowsOf,
    request_from_plain,
    request_to_plain,
)
from winnower.core.dataset.rows import (
    DataRows,
    decision_rows,
    passage_rows,
    sentence_rows,
    text_rows,
)

__all__ = [
    "About",
    "DataColumn",
    "DataRequest",
    "DataRows",
    "Names",
    "RowsOf",
    "decision_rows",
    "field_column",
    "frame",
    "looked_up_column",
    "own_column",
    "passage_rows",
    "request_from_plain",
    "request_to_plain",
    "sentence_rows",
    "target_columns",
    "text_rows",
]
