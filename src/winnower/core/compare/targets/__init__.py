"""All that can be counted. A new target is a module here and its name in ``AnyTarget``."""

from typing import Annotated

from pydantic import Discriminator

from winnower.core.compare.targets.base import (
    CodeNode,
    Corpus,
    Known,
    MethodPart,
    Reference,
    Row,
    Target,
    single_rows,
)
from winnower.core.compare.targets.codes import CodesTarget, OfCodes
from winnower.core.compare.targets.dictionary import DictionaryTarget, OfDictionary, OfGiven
from winnower.core.compare.targets.length import OfLength
from winnower.core.compare.targets.search import OfSearch, SearchTarget
from winnower.core.compare.targets.terms import OfTerms, OfWords, TermsTarget

#: Every reference, told apart by its ``kind``.
AnyTarget = Annotated[
    OfDictionary | OfGiven | OfTerms | OfSearch | OfWords | OfLength | OfCodes, Discriminator("kind")
]

__all__ = [
    "AnyTarget",
    "CodeNode",
    "CodesTarget",
    "Corpus",
    "DictionaryTarget",
    "Known",
    "MethodPart",
    "OfCodes",
    "OfDictionary",
    "OfGiven",
    "OfLength",
    "OfSearch",
    "OfTerms",
    "OfWords",
    "Reference",
    "Row",
    "SearchTarget",
    "Target",
    "TermsTarget",
    "single_rows",
]
