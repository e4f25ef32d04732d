"""Who speaks: turns that lines begin, the names found, and which of them are more likely fields of a text."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, NamedTuple

import polars as pl
from rapidfuzz.distance import OSA

from winnower.core.errors import WinnowerError

#: "Name:", "@name:", "B 2:", "Ann Bore (00:12:30):", "[00:12] Ann:"; at most four words.
USUAL = (
    r"^\s*(?:[\[(]\d{1,2}:\d{2}(?::\d{2})?[\])]\s*)?"
    r"(@[\w.]{1,40}|\p{L}[\p{L}\p{N}.'’\-]{0,25}(?: [\p{L}\p{N}][\p{L}\p{N}.'’\-]{0,25}){0,3})"
    r"(?:\s*[\[(]\d{1,2}:\d{2}(?::\d{2})?[\])])?\s?[:：](?:[ \t]+|$)"
)
MOST_PATTERN = 300
MOST_NAMES = 1_000
#: A label that never has more words behind it, and comes once in a text, is a field of it.
FIELD_WORDS = 6
TURNS: dict[str, Any] = {
    "text_id": pl.Int64,
    "label": pl.String,
    "start": pl.Int64,
    "end": pl.Int64,
    "words": pl.Int64,
}


class Name(NamedTuple):
    """Somebody found: how many turns, in how many texts, how many words; ``field`` where the lines look like fields
    ("Age: 34"); ``like`` another name it may be a spelling of."""

    name: str
    turns: int
    texts: int
    words: int
    field: bool
    like: str | None


def checked(pattern: str) -> str:
    """A pattern as it is used; "" is the usual one. Expressions are matched in linear time, whatever they say.

    Raises WinnowerError for one that cannot be read, is too long, has no part for the name, or matches nothing at
    all.
    """
    if not pattern:
        return USUAL
    if len(pattern) > MOST_PATTERN:
        raise WinnowerError(f"A pattern can have at most {MOST_PATTERN} characters.")
    anchored = pattern if pattern.startswith("^") else f"^{pattern}"
    try:
        groups = pl.select(pl.lit("").str.extract_groups(anchored)).to_series().struct.fields
        empty = pl.select(pl.lit("").str.contains(anchored)).item()
    except (pl.exceptions.PolarsError, BaseException) as error:
        if not isinstance(error, Exception) and type(error).__name__ != "PanicException":
            raise
        raise WinnowerError(
            "This expression cannot be read. It describes how a turn begins, with the name in round brackets, "
            "such as ^(\\w+)> for “Ann> I think so”."
        ) from error
    if len([one for one in groups if one]) != 1:
        raise WinnowerError(
            "Put the part of the expression that is the name, and only that, in round brackets."
        )
    if empty:
        raise WinnowerError(
            "This expression also fits lines without anything; say more of how a turn begins."
        )
    return anchored


def turns_in_lines(texts: pl.DataFrame, pattern: str) -> pl.DataFrame:
    """Turns of texts (text_id, body), with the columns of TURNS: from behind the name to before the next turn of the
    text, in code points. ``pattern`` as ``checked`` gives it."""
    lines = (
        texts.with_columns(pl.col("body").str.split("\n").alias("line"))
        .explode("line", empty_as_null=True)
        .with_columns(size=pl.col("line").str.len_chars().cast(pl.Int64) + 1)
        .with_columns(at=pl.col("size").cum_sum().over("text_id") - pl.col("size"))
    )
    found = lines.with_columns(label=pl.col("line").str.extract(pattern, 1).str.strip_chars()).filter(
        pl.col("label").is_not_null() & (pl.col("label") != "")
    )
    if not len(found):
        return pl.DataFrame(schema=TURNS)
    lead = pl.col("line").str.len_chars() - pl.col("line").str.replace(pattern, "").str.len_chars()
    length = texts.select("text_id", length=pl.col("body").str.len_chars().cast(pl.Int64))
    found = found.join(length, on="text_id", how="left", maintain_order="left").with_columns(
        start=pl.col("at") + lead.cast(pl.Int64),
        end=pl.col("at").shift(-1).over("text_id").fill_null(pl.col("length")),
    )
    found = found.with_columns(
        said=pl.col("body").str.slice(pl.col("start"), pl.col("end") - pl.col("start"))
    )
    return found.select(
        "text_id",
        pl.col("label").str.strip_chars_start("@"),
        "start",
        end=pl.col("start") + pl.col("said").str.strip_chars_end().str.len_chars().cast(pl.Int64),
        words=pl.col("said").str.count_matches(r"\S+").cast(pl.Int64),
    )


def names_in(turns: pl.DataFrame) -> list[Name]:
    """The names of turns, those with the most turns first.

    A label is taken for a field where it never has more than FIELD_WORDS words behind it and comes only once in
    each text.
    """
    counted = (
        turns.group_by("label")
        .agg(
            pl.len().alias("turns"),
            pl.col("text_id").n_unique().alias("texts"),
            pl.col("words").sum().alias("words"),
            pl.col("words").max().alias("longest"),
        )
        .sort(["turns", "label"], descending=[True, False])
        .head(MOST_NAMES)
    )
    names = counted["label"].to_list()
    rows = counted.iter_rows()
    return [
        Name(name, turns, texts, words, longest <= FIELD_WORDS and turns == texts, _like(name, names[:at]))
        for at, (name, turns, texts, words, longest) in enumerate(rows)
    ]


def _like(name: str, before: Sequence[str]) -> str | None:
    """A more frequent name that differs by one letter, or only in capitals, signs and spaces."""
    plain = _plain(name)
    for other in before[:200]:
        it = _plain(other)
        numbered = it[-1:].isdigit() or plain[-1:].isdigit()  # B1 and B2 are two people
        if it == plain or (
            not numbered and min(len(it), len(plain)) >= 4 and OSA.distance(it, plain, score_cutoff=1) <= 1
        ):
            return other
    return None


def _plain(name: str) -> str:
    return "".join(sign for sign in name.casefold() if sign.isalnum())


def joined(turns: pl.DataFrame, called: Sequence[tuple[str, str]]) -> pl.DataFrame:
    """Turns of the names chosen, each under what it is to be called; the others are left out."""
    names = pl.DataFrame(list(called), schema=["label", "called"], orient="row")
    return turns.join(names, on="label", maintain_order="left").with_columns(label="called").drop("called")
