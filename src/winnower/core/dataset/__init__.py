"""Data for statistics programs: a row for each text, sentence, passage or decision, every column described."""

from winnower.core.dataset.columns import (
    About,
    DataColumn,
    Kind,
    Names,
    field_column,
    frame,
    looked_up_column,
    mean_touching,
    own_column,
    target_columns,
    value_columns,
)
from winnower.core.dataset.request import (
    DataRequest,
    RowsOf,
    request_to_plain,
)
from winnower.core.dataset.rows import (
    DataRows,
    decision_rows,
    passage_rows,
    sentence_rows,
    text_rows,
)
from winnower.core.dataset.units import (
    shared_value_column,
    summed_columns,
    texts_column,
    unit_rows,
    words_columns,
)

__all__ = [
    "About",
    "DataColumn",
    "DataRequest",
    "DataRows",
    "Kind",
    "Names",
    "RowsOf",
    "decision_rows",
    "field_column",
    "frame",
    "looked_up_column",
    "mean_touching",
    "own_column",
    "passage_rows",
    "request_to_plain",
    "sentence_rows",
    "target_columns",
    "text_rows",
    "shared_value_column",
    "summed_columns",
    "texts_column",
    "unit_rows",
    "words_columns",
    "value_columns",
]
