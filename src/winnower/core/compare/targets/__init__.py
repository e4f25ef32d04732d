"""All that can be counted. A new target is a module here and its name in ``AnyTarget``."""

from typing import Annotated

from pydantic import Discriminator

from winnower.core.compare.targets.arranged import arranged_rows
from winnower.core.compare.targets.base import (
    CodeNode,
    Corpus,
    Known,
    MethodPart,
    Reference,
    Row,
    RunFound,
    Target,
    single_rows,
)
from winnower.core.compare.targets.codes import CodesTarget, OfCodes
from winnower.core.compare.targets.dictionary import DictionaryTarget, OfDictionary, OfGiven
from winnower.core.compare.targets.length import OfLength
from winnower.core.compare.targets.numbers import (
    FieldNumber,
    NumberRow,
    NumbersTarget,
    OfNumbers,
    ToneNumber,
    numbers_of,
)
from winnower.core.compare.targets.run import OfRun
from winnower.core.compare.targets.search import OfSearch, SearchTarget
from winnower.core.compare.targets.terms import OfTerms, OfWords, TermsTarget
from winnower.core.compare.targets.values import OfValues

#: Every reference, told apart by its ``kind``.
AnyTarget = Annotated[
    OfDictionary | OfGiven | OfTerms | OfSearch | OfWords | OfLength | OfCodes | OfValues | OfRun | OfNumbers,
    Discriminator("kind"),
]

__all__ = [
    "AnyTarget",
    "CodeNode",
    "CodesTarget",
    "Corpus",
    "DictionaryTarget",
    "FieldNumber",
    "Known",
    "MethodPart",
    "OfCodes",
    "OfDictionary",
    "OfGiven",
    "NumberRow",
    "NumbersTarget",
    "OfLength",
    "OfNumbers",
    "OfRun",
    "OfSearch",
    "OfTerms",
    "OfValues",
    "OfWords",
    "Reference",
    "Row",
    "RunFound",
    "SearchTarget",
    "Target",
    "TermsTarget",
    "ToneNumber",
    "arranged_rows",
    "numbers_of",
    "single_rows",
]
