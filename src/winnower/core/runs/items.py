"""Items of lists: lines that begin with a bullet, a dash, a number or a letter."""

from __future__ import annotations

import polars as pl

from winnower.core.runs.speakers import TURNS

#: What begins an item, by what it is called; a number or letter has a full stop or a bracket behind it.
MARKS = {
    "Items with a bullet": r"^\s*[•◦▪‣●○■□·*]\s+\S",
    "Items with a dash": r"^\s*[-–—]\s+\S",
    "Items with a number": r"^\s*(?:\(?\d{1,3}[.)]|\d{1,3}(?:\.\d{1,3})+\.?)\s+\S",
    "Items with a letter": r"^\s*\(?[A-Za-z][)]\s+\S",
}


def items_in_lines(texts: pl.DataFrame) -> pl.DataFrame:
    """Items of texts (text_id, body), with the columns of TURNS: from its first to its last sign, in code points. An
    item is one line; what stands below it is none."""
    lines = (
        texts.with_columns(pl.col("body").str.split("\n").alias("line"))
        .drop("body")
        .explode("line", empty_as_null=True)
        .with_columns(length=pl.col("line").str.len_chars())
        .with_columns(
            first=(pl.col("length") + 1).cum_sum().over("text_id") - pl.col("length") - 1,
            label=pl.coalesce(
                *(
                    pl.when(pl.col("line").str.contains(mark)).then(pl.lit(name))
                    for name, mark in MARKS.items()
                )
            ),
        )
        .filter(pl.col("label").is_not_null())
    )
    blank = pl.col("length") - pl.col("line").str.strip_chars_start().str.len_chars()
    return lines.select(
        "text_id",
        "label",
        start=(pl.col("first") + blank).cast(pl.Int64),
        end=(pl.col("first") + pl.col("line").str.strip_chars_end().str.len_chars()).cast(pl.Int64),
        words=pl.col("line").str.count_matches(r"\S+").cast(pl.Int64),
    ).cast(pl.Schema(TURNS))
