"""Generated corpora with a natural distribution of words (Zipf and Mandelbrot), for measuring."""

from __future__ import annotations

import csv
from collections.abc import Iterator
from pathlib import Path

import numpy as np

SOURCES = 20
SYLLABLES = [
    "ka",
    "lo",
    "mi",
    "ren",
    "tas",
    "vol",
    "der",
    "un",
    "sha",
    "bri",
    "ek",
    "no",
    "pil",
    "gar",
    "wen",
    "os",
    "tu",
    "fal",
    "mor",
    "yn",
]
_ALPHABET = len(SYLLABLES)


def word(number: int) -> str:
    """A word for a rank: distinct, pronounceable, longer the rarer."""
    out = SYLLABLES[number % _ALPHABET]
    number //= _ALPHABET
    while number:
        out += SYLLABLES[(number - 1) % _ALPHABET]
        number = (number - 1) // _ALPHABET
    return out


def vocabulary(size: int = 150_000) -> np.ndarray:
    return np.array([word(n) for n in range(size)])


def draw(rng: np.random.Generator, size: int, types: int) -> np.ndarray:
    """Ranks with p proportional to 1 / (rank + 2.7)."""
    weights = 1 / (np.arange(types) + 2.7)
    return np.searchsorted(np.cumsum(weights) / weights.sum(), rng.random(size)).clip(0, types - 1)


def short_texts(n: int, seed: int = 7) -> Iterator[list[str]]:
    """Rows id, title, source, date, region, age, text; 4 to 16 words a text."""
    return _rows(n, seed, 4, 17)


def long_texts(n: int, seed: int = 8) -> Iterator[list[str]]:
    """The same with 60 to 600 words a text."""
    return _rows(n, seed, 60, 601)


def _rows(n: int, seed: int, shortest: int, longest: int) -> Iterator[list[str]]:
    rng = np.random.default_rng(seed)
    words = vocabulary()
    done = 0
    while done < n:
        size = min(20_000, n - done)
        lengths = rng.integers(shortest, longest, size)
        tokens = words[draw(rng, int(lengths.sum()), len(words))].tolist()
        source, region, age, day = (rng.integers(0, top, size).tolist() for top in (SOURCES, 8, 70, 365))
        at = 0
        for row, length in enumerate(lengths.tolist()):
            body = " ".join(tokens[at : at + length]).capitalize() + "."
            at += length
            number = done + row
            date = f"2031-{day[row] // 31 + 1:02d}-{day[row] % 28 + 1:02d}"
            yield [
                f"k{number}",
                f"Text {number}",
                f"Source {source[row]}",
                date,
                f"Region {region[row]}",
                str(age[row]),
                body,
            ]
        done += size


HEADER = ["id", "title", "source", "date", "region", "age", "text"]


def write_csv(path: Path, rows: Iterator[list[str]]) -> Path:
    with path.open("w", newline="", encoding="utf-8") as file:
        writer = csv.writer(file)
        writer.writerow(HEADER)
        writer.writerows(rows)
    return path
