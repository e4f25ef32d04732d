"""How a table was counted, in words, with sources: shown beside it and written into exports."""

from __future__ import annotations

from winnower.core.compare.comparison import MEASURES
from winnower.core.compare.table import Table

_BY_MEASURE = {
    "rate": (
        "A rate is all hits of a group over all its words, times 1,000; it is not a mean of the "
        "texts’ rates. Words are tokens with a letter or a digit. The 95% interval takes the text "
        "as the sampling unit, so that one long article cannot decide the result.",
        "Ratio estimator: Cochran (1977), Sampling Techniques, ch. 6.",
    ),
    "mean_rate": (
        "Each text’s own rate per 1,000 words, averaged over the texts of the group: every text "
        "weighs the same, however long it is.",
        "Student (1908), Biometrika 6.",
    ),
    "share": (
        "Hits of a category over all hits of the compared categories in the group, with the "
        "interval of a ratio over texts.",
        "Ratio estimator: Cochran (1977), Sampling Techniques, ch. 6.",
    ),
    "share_of_texts": (
        "Texts with at least one hit over all texts of the group, with Wilson’s interval.",
        "Wilson (1927), JASA 22.",
    ),
    "hits": ("The number of hits in the group; it grows with the group’s size.", ""),
    "texts": ("The number of texts with at least one hit in the group.", ""),
}

_TEST = (
    "The test asks whether the groups share their hits out over the categories in the same way. "
    "Words of one text belong together, so the chi-squared is adjusted by the spread between texts "
    "(second-order correction); the plain test is shown beside it."
)
_TEST_SOURCES = (
    "Rao and Scott (1981), JASA 76; (1984), Annals of Statistics 12. Cramér’s V with bias "
    "correction: Bergsma (2013). Residuals: Haberman (1973), Biometrics 29."
)


def how_counted(table: Table) -> list[tuple[str, str, str]]:
    """(heading, sentences, source) in reading order."""
    comparison = table.comparison
    target = comparison.target
    version = f", version {comparison.version}" if comparison.version is not None else ""
    terms = sum(len(category.terms) for category in target.categories)
    words, source = _BY_MEASURE[comparison.measure]
    return [
        (
            "What was counted",
            f"Dictionary “{target.name}”{version}: {terms:,} terms in "
            f"{len(target.categories):,} categories, over {table.texts_in_groups:,} texts.",
            "",
        ),
        (
            "What is a hit",
            "A term hits where its words stand in a row; case is ignored and accents count unless "
            "the term says otherwise. Within a category every word counts once: of overlapping hits "
            "the longest, then the leftmost, wins. A parent category counts the union of its "
            "children. Between categories hits are independent.",
            "",
        ),
        (f"Measure: {MEASURES[comparison.measure]}", words, source),
        ("Test", _TEST, _TEST_SOURCES),
        (
            "Residuals",
            "In the table a cell is tinted where its adjusted residual lies beyond 2 either side: "
            "more hits than the whole mix would give, or fewer.",
            "Haberman (1973), Biometrics 29.",
        ),
    ]


def words_method(unit: str, length: int, merge: str, stop: bool, language: str) -> list[tuple[str, str, str]]:
    """(heading, sentences, source) for a word list."""
    what = (
        "A word is a run of letters and digits, with inner apostrophes and hyphens; case is ignored and "
        "accents count. Hits are all its tokens in the scope, texts those with at least one."
    )
    if unit == "phrase":
        what = (
            f"A phrase is {length} tokens in a row within one sentence; case is ignored and accents count. "
            "Overlapping phrases all count, so the same word can stand in several."
        )
    parts = [("What was counted", what, "")]
    if merge == "lemma":
        words = f"Forms of one lemma are one row, by a word list for “{language}” that does not look at the sentence."
        parts.append(("Forms together", words, "Word lists of simplemma."))
    elif merge == "stem":
        words = f"Forms with one stem are one row, by the Snowball rules for “{language}”."
        parts.append(("Forms together", words, "Porter (2001), Snowball."))
    if stop:
        words = "Words of the stop list are left out."
        if unit == "phrase":
            words = "Phrases that begin or finish with a word of the stop list are left out."
        parts.append(("Stop list", words, ""))
    parts.append(
        (
            "Evenness",
            "DP over the groups of the split: 0 where the hits fall as the words do, 1 where all are in "
            "one group.",
            "Gries (2008), normalised as in Lijffijt and Gries (2012).",
        )
    )
    return parts


def collocates_method(window: int, least: int) -> list[tuple[str, str, str]]:
    """(heading, sentences, source) for collocates."""
    return [
        (
            "Company",
            f"Words within {window} tokens of a hit, inside the sentence in which it begins. A token between "
            "two hits counts once in all measures, and at both its places in the small columns. Words "
            f"that stand there fewer than {least} times are left out.",
            "",
        ),
        (
            "G2",
            "Log-likelihood of the 2 by 2 table: in a window or not, this word or not; negative where there "
            "is less than expected. Words clump in texts, so take it for ordering rather than as a test.",
            "Dunning (1993), Computational Linguistics 19.",
        ),
        ("logDice", "14 plus log2 of the Dice coefficient; does not grow with the corpus.", "Rychly (2008)."),
        (
            "PMI",
            "Log2 of observed over expected; overrates rare words.",
            "Church and Hanks (1990), Computational Linguistics 16.",
        ),
    ]
