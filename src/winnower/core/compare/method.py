"""How a table was counted, in words, with sources: shown beside it and written into exports."""

from __future__ import annotations

from winnower.core.compare.sentences import level_text
from winnower.core.compare.table import STANDS_OUT, Table
from winnower.core.compare.targets import MethodPart

_TEST = (
    "The test asks whether the groups share their hits out over the {nouns} in the same way. "
    "Words of one text belong together, so the chi-squared is adjusted by the spread between texts "
    "(second-order correction); the plain test is shown beside it."
)
_TEST_SOURCES = (
    "Rao and Scott (1981), JASA 76; (1984), Annals of Statistics 12. Cramér’s V with bias "
    "correction: Bergsma (2013). Residuals: Haberman (1973), Biometrics 29."
)


def how_counted(table: Table) -> list[MethodPart]:
    """What was counted and how, in reading order."""
    measure = table.shown
    words = measure.method.replace("{level}", level_text(table.comparison.level))
    return [
        *table.target.method(table.texts_in_groups),
        MethodPart(f"Measure: {measure.unit}", words, measure.source),
        MethodPart("Test", _TEST.format(nouns=table.target.nouns[1]), _TEST_SOURCES),
        MethodPart(
            "Residuals",
            f"In the table a cell is tinted where its adjusted residual lies beyond {STANDS_OUT:g} either side: "
            "more hits than the whole mix would give, or fewer.",
            "Haberman (1973), Biometrics 29.",
        ),
    ]


def words_method(unit: str, length: int, merge: str, stop: bool, language: str) -> list[MethodPart]:
    """How a word list was counted."""
    what = (
        "A word is a run of letters and digits, with inner apostrophes and hyphens; case is ignored and "
        "accents count. Hits are all its tokens in the scope, texts those with at least one."
    )
    if unit == "phrase":
        what = (
            f"A phrase is {length} tokens in a row within one sentence; case is ignored and accents count. "
            "Overlapping phrases all count, so the same word can stand in several."
        )
    parts = [MethodPart("What was counted", what)]
    if merge == "lemma":
        words = f"Forms of one lemma are one row, by a word list for “{language}” that does not look at the sentence."
        parts.append(MethodPart("Forms together", words, "Word lists of simplemma."))
    elif merge == "stem":
        words = f"Forms with one stem are one row, by the Snowball rules for “{language}”."
        parts.append(MethodPart("Forms together", words, "Porter (2001), Snowball."))
    if stop:
        words = "Words of the stop list are left out."
        if unit == "phrase":
            words = "Phrases that begin or finish with a word of the stop list are left out."
        parts.append(MethodPart("Stop list", words, ""))
    parts.append(
        MethodPart(
            "Evenness",
            "DP over the groups of the split: 0 where the hits fall as the words do, 1 where all are in "
            "one group.",
            "Gries (2008), normalised as in Lijffijt and Gries (2012).",
        )
    )
    return parts


def collocates_method(window: int, least: int) -> list[MethodPart]:
    """How collocates were counted."""
    return [
        MethodPart(
            "Company",
            f"Words within {window} tokens of a hit, inside the sentence in which it begins. A token between "
            "two hits counts once in all measures, and at both its places in the small columns. Words "
            f"that stand there fewer than {least} times are left out.",
            "",
        ),
        MethodPart(
            "G2",
            "Log-likelihood of the 2 by 2 table: in a window or not, this word or not; negative where there "
            "is less than expected. Words clump in texts, so take it for ordering rather than as a test.",
            "Dunning (1993), Computational Linguistics 19.",
        ),
        MethodPart(
            "logDice",
            "14 plus log2 of the Dice coefficient; does not grow with the corpus.",
            "Rychly (2008).",
        ),
        MethodPart(
            "PMI",
            "Log2 of observed over expected; overrates rare words.",
            "Church and Hanks (1990), Computational Linguistics 16.",
        ),
    ]
