"""How a table was counted, in words, with sources: shown beside it and written into exports."""

from __future__ import annotations

from winnower.core.compare.table import Table
from winnower.core.compare.targets import MethodPart
from winnower.core.compare.testing import LEAST_UNITS
from winnower.core.compare.weights import weights_method
from winnower.core.compare.wording import level_text
from winnower.core.measure import LEAST_HITS, LEAST_WITH_HIT, against_others
from winnower.core.scope.levels import BANDS, MOST_NUMBERS

_TEST = (
    "Permutation tests with {unit} as the unit: {units} are reassigned to the groups at random, many times (seed {seed}), and p is "
    "the share of permutations with a studentised difference at least as large as the observed one. Tested are the rate of each of "
    "the {nouns}, with p adjusted over them, and their mix, the shares of all hits. Where many rows are tested, those that hardly "
    "any permutation is as extreme as are given more of them. Where there are too many {units} to permute, and enough in every "
    "group, p is approximated. Groups with fewer than {least} {units} are not tested."
)
_TEST_SOURCES = (
    "Chung and Romano (2013), Annals of Statistics 41; number of permutations: Besag and Clifford (1991), Biometrika 78; p adjusted: "
    "Holm (1979), or by the largest statistic of each permutation where these are too few for that: Westfall and Young (1993), "
    "Resampling-Based Multiple Testing; approximation of rates: Welch (1951), Biometrika 38; of the mix: Rao and Scott (1984), Annals of "
    "Statistics 12."
)
_TREND = (
    "A straight line through the rates, weighted by words. Periods next to each other are often alike, so the slope is "
    "compared with waves nearly as slow instead of with the scatter from one period to the next. Where neighbours "
    "are very much alike (a correlation of 0.8) it still finds a line in about one of ten corpora without any."
)
_TREND_SOURCES = "Müller and Watson (2008), Econometrica 76; Lazarus and others (2018), JBES 36."
_CHOSEN = (
    "What is picked from many is tested as picked from many. The largest gap is looked for among {gaps} with "
    "{hits} hits in {texts} {units} or more on each side; its interval holds for all of them at once, and the ratio is "
    "shrunken towards 1 by the part of the spread that is chance. In the table a cell is tinted where its rate lies "
    "further from that of all other groups than the furthest of all cells would by chance; its distance is given in "
    "standard errors over {units}."
)
_CHOSEN_SOURCES = (
    "Westfall and Young (1993), Resampling-Based Multiple Testing; DerSimonian and Laird (1986), Controlled Clinical "
    "Trials 7; Efron and Morris (1973), JASA 68."
)


_MODEL = (
    "A log-linear model of each row’s hits, with the words as base: the groups and {names} at once. Ratios are to the "
    "value with most words; numbers in more than {most} different values are cut into {bands} bands of about as many texts. "
    "Errors come from what {units} have more or less than expected, not from a distribution that is believed in. A field "
    "is tested by dealing these surpluses out anew among {units} that are alike in all other fields (seed {seed}); with "
    "very many {units}, or such that have several values, it is approximated. p is adjusted over the {nouns}."
)
_MODEL_SOURCES = (
    "Quasi-Poisson regression: McCullagh and Nelder (1989), Generalized Linear Models; errors: Bell and McCaffrey "
    "(2002), Survey Methodology 28; permutation of residuals: Freedman and Lane (1983), JBES 1; Holm (1979)."
)


_TEST_OF_MEANS = (
    "Does the mean of each of the {nouns} differ between the groups (p adjusted over them)? What is drawn at random is {unit}: "
    "{units} are given to the groups anew, many times (seed {seed}), and the share of times that gives as large a studentised "
    "difference is p. The groups are not taken to be equally spread. Where there are too many {units} to do that, p is "
    "approximated. Groups with fewer than {least} {units} with a value take no part."
)
_MEAN_SOURCES = (
    "Chung and Romano (2013), Annals of Statistics 41; approximation: Welch (1951), Biometrika 38; spreads drawn together: "
    "Smyth (2004), Statistical Applications in Genetics and Molecular Biology 3; p adjusted: Holm (1979)."
)
_MEANS_CHOSEN = (
    "What is picked from many is tested as picked from many: the interval of the largest difference holds for all at once, and "
    "it is shrunken towards 0 by the part of the spread that is chance. In the table a cell is tinted where its mean lies further "
    "from that of all other groups than the furthest of all cells would by chance; its distance is given in standard errors."
)


def how_counted(table: Table) -> list[MethodPart]:
    """What was counted and how, in reading order."""
    measure, unit = table.shown, table.unit
    level = level_text(table.comparison.level)
    words = measure.method.format(level=level, unit=unit.name, units=unit.nouns)
    found = [
        *table.target.method(table.texts_in_groups),
        MethodPart(f"Measure: {measure.unit}", words, measure.source),
    ]
    if table.counts.weights is not None:
        found.append(weights_method(table.counts.weights, table.groups, level))
    if (held := table.view.held) is not None:
        model = _MODEL.format(
            names=held.names,
            units=unit.nouns,
            seed=table.comparison.seed,
            nouns=table.target.nouns[1],
            most=MOST_NUMBERS,
            bands=BANDS,
        )
        found.append(MethodPart("Controlling for other fields", model, _MODEL_SOURCES))
    if table.tests.verdict is None:
        return found
    if table.of_numbers:
        return [*found, *_tests_of_means(table)]
    test = _TEST.format(
        nouns=table.target.nouns[1],
        unit=unit.name,
        units=unit.nouns,
        seed=table.comparison.seed,
        least=LEAST_UNITS,
    )
    with_hits = int((table.counted[list(table.tested_rows)].sum(1) > 0).sum())
    others = against_others(with_hits, table.groups.n_groups - len(table.tests.left_out))
    chosen = _CHOSEN.format(
        gaps="the groups, each against all others," if others else "all pairs of groups",
        hits=LEAST_HITS,
        texts=LEAST_WITH_HIT,
        units=unit.nouns,
    )
    if table.tests.verdict.trend is not None:
        found.append(MethodPart("Over time", _TREND, _TREND_SOURCES))
    return [
        *found,
        MethodPart("Tests", test, _TEST_SOURCES),
        MethodPart("Chosen among many", chosen, _CHOSEN_SOURCES),
    ]


def _tests_of_means(table: Table) -> list[MethodPart]:
    verdict, unit = table.tests.verdict, table.unit
    test = _TEST_OF_MEANS.format(
        nouns=table.target.nouns[1],
        unit=unit.name,
        units=unit.nouns,
        seed=table.comparison.seed,
        least=LEAST_UNITS,
    )
    parts = [
        MethodPart("Tests", test, _MEAN_SOURCES),
        MethodPart("Chosen among many", _MEANS_CHOSEN, _CHOSEN_SOURCES),
    ]
    if verdict is not None and verdict.trend is not None:
        line = _TREND.replace(
            "the rates, weighted by words", "the means, weighted by how many values each period has"
        )
        parts.insert(0, MethodPart("Over time", line, _TREND_SOURCES))
    return parts


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
            "DP over the groups of the split: 0 where the hits fall on the groups as the words do, 1 where all "
            "are in the group with the fewest words. It says nothing about texts inside a group.",
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
