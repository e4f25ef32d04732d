"""What keywords say in plain words, and how they were counted."""

from __future__ import annotations

import numpy as np

from winnower.core.compare.statement import Statement
from winnower.core.compare.targets import MethodPart
from winnower.core.compare.wording import capitalised, names
from winnower.core.keyness.keywords import LEAST_TEXTS, Keyness, most_typical
from winnower.core.keyness.occurrences import Occurrences
from winnower.core.keyness.request import Keywords, Sides

#: One text that holds more than this part of a row's hits in the group is told of.
CARRIED = 0.5
#: Sides that differ in words by more than this are told of.
UNEQUAL = 20.0
NAMED = 5


def keywords_statements(asked: Keywords, sides: Sides, words: Occurrences, found: Keyness) -> list[Statement]:
    """What is most typical, of how many it is more than chance, and what to beware of."""
    group, against = sides.labels
    noun = _noun(asked)
    if not len(found.row):
        return [Statement("note", f"No {noun} occurs {asked.least_hits:,} times or more in these texts.")]
    over = most_typical(found, "g2")
    out = []
    sure_at = np.nan_to_num(found.adjusted, nan=1.0) <= 1 - asked.level
    sure, tested = int(sure_at.sum()), found.tested
    if len(over):
        typical = over[sure_at[over]]
        named = (typical if len(typical) else over)[:NAMED]
        labels = ", ".join(f"“{words.names[int(found.row[at])]}”" for at in named)
        if len(typical):
            text = f"Most typical of {group}, against {against}: {labels}."
        else:
            not_sure = "not significantly" if tested else "not tested"
            text = f"More frequent in {group} than in {against}, but {not_sure}: {labels}."
        out.append(Statement("gap", text, (group,)))
    if tested:
        wrong = f"; about {1 - asked.level:.0%} of these are expected to be false positives" if sure else ""
        details = (
            f"Tested over texts, with the false discovery rate controlled at {1 - asked.level:.0%}{wrong}. {capitalised(noun)}s in fewer than "
            f"{LEAST_TEXTS} texts of a side are not tested."
        )
        differ = "differs" if sure == 1 else "differ"
        out.append(Statement("test", f"{sure:,} of {tested:,} {noun}s {differ} significantly.", (), details))
    else:
        out.append(
            Statement(
                "note", f"No {noun} occurs in {LEAST_TEXTS} texts or more on each side, so none is tested."
            )
        )
    return out + _beware(asked, sides, words, found, over[:20])


def _beware(
    asked: Keywords, sides: Sides, words: Occurrences, found: Keyness, top: np.ndarray
) -> list[Statement]:
    out = []
    carried = [at for at in top if found.most[at] > CARRIED and found.hits[at, 0] > 1]
    if carried:
        labels = [f"“{words.names[int(found.row[at])]}” ({found.most[at]:.0%})" for at in carried]
        out.append(
            Statement(
                "warning",
                f"Most hits in the group come from a single text: {names(labels)}. Open it before you rely on these words.",
            )
        )
    x = np.maximum(found.words.astype(float), 1)
    if x.max() / x.min() > UNEQUAL:
        out.append(
            Statement(
                "warning",
                f"The sides are of very unequal length: {int(found.words[0]):,} and {int(found.words[1]):,} words. Rare words "
                "of the shorter one can look typical by chance.",
            )
        )
    if sides.shared:
        out.append(
            Statement(
                "note", f"{sides.shared:,} texts are on both sides and count only in {sides.labels[0]}."
            )
        )
    return out


def _noun(asked: Keywords) -> str:
    if asked.unit == "phrase":
        return "phrase"
    if asked.kinds == ("hashtag",):
        return "hashtag"
    return {"none": "word", "lemma": "lemma", "stem": "stem"}[asked.merge]


def keywords_method(asked: Keywords, sides: Sides, found: Keyness, language: str) -> list[MethodPart]:
    """How it was counted."""
    stop = "; what is on the stop list is left out" if asked.stop else ""
    merged = {
        "none": "",
        "lemma": f", all forms of a lemma in one row ({language})",
        "stem": f", all words with the same stem in one row ({language})",
    }[asked.merge]
    what = (
        f"phrases of {asked.length} words"
        if asked.unit == "phrase"
        else ", ".join(f"{one}s" for one in asked.kinds)
    )
    return [
        MethodPart(
            "What was counted",
            f"{what.capitalize()}{merged}{stop}, with {asked.least_hits:,} hits or more in both sides together, in "
            f"{int(found.n_texts[0]):,} texts ({int(found.words[0]):,} words) of {sides.labels[0]} and "
            f"{int(found.n_texts[1]):,} texts ({int(found.words[1]):,} words) of {sides.labels[1]}.",
        ),
        MethodPart(
            "G2 and log ratio",
            "G2 compares hits and words of both sides as if every word stood alone. It is the usual "
            "measure to order by, and too sure of itself where words come in clumps; its size is no size of a difference. "
            "The log ratio is: 1 is twice, 2 four times, 3 eight times as often; 0.5 stands for no hit.",
            "Dunning (1993), Computational Linguistics 19; Hardie (2014), log ratio.",
        ),
        MethodPart(
            "Weighted log-odds",
            "The log of the ratio of odds, shrunken towards zero by a prior, the counts of both sides together, over its "
            "error: it favours neither very rare nor very frequent words.",
            "Monroe, Colaresi and Quinn (2008), Political Analysis 16.",
        ),
        MethodPart(
            "p",
            "What is drawn at random is the text. The difference of the logs of the rates over the root of both linearised "
            f"variances over texts, Student’s t; given where {LEAST_TEXTS} texts or more of each side have the word. Adjusted "
            "over all that were tested, so that of those called different only that share is expected to be wrong.",
            "Cochran (1977), Sampling Techniques, ch. 6; Welch (1947), Biometrika 34; Benjamini and Hochberg (1995), JRSS B 57.",
        ),
        MethodPart(
            "Evenness",
            "DP over the texts of the group: 0 where hits fall over texts as words do, 1 where all are in one.",
            "Gries (2008), International Journal of Corpus Linguistics 13; Lijffijt and Gries (2012), the same 17.",
        ),
    ]
