"""Files to rows and texts, one module a format family. Bad rows are reported, never fatal."""

from winnower.readers.files import Origin, list_files
from winnower.readers.lots import Lot, LotChoice, gather
from winnower.readers.mapping import Mapping, Target, guess_mapping
from winnower.readers.problems import Problem
from winnower.readers.tables import Batch, TableReader

__all__ = [
    "Batch",
    "Lot",
    "LotChoice",
    "Mapping",
    "Origin",
    "Problem",
    "TableReader",
    "Target",
    "gather",
    "guess_mapping",
    "list_files",
]
