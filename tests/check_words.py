"""Lines of screens, messages, help and README that a reader would have to decode; exits 1 where there are any.

A line that is right as it is ends in ``words: ok``.
"""

from __future__ import annotations

import ast
import re
import sys
from collections.abc import Iterator
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
#: What to look for, and what to write instead.
ODD = {
    r"\bnought\b": "zero",
    r"\bdrawn towards\b": "shrunken towards",
    r"\bheld for all of them\b": "simultaneous interval",
    r"\bmiddling\b": "medium-sized",
    r"\bfor want of\b": "because there is no",
    r"\bcustomary\b": "usual, standard",
    r"\bset against\b": "compared with",
    r"\bis to stand\b": "to keep",
    r"\ball the same\b": "anyway",
    r"\bcalled so\b": "with this name",
    r"\bof the first\)": "give each its share",
    r"\bparted by\b": "separated by",
    r"\bword for word\b": "identical",
    r"\bnearly alike\b": "near-duplicate",
    r"\blet (it )?go\b": "delete",
    r"\btake along\b": "download",
    r"\bto look after\b": "warnings",
    r"\bgo(es)? with what\b": "co-occurrence",
    r"\bknow of each other\b|\bdid not know of\b": "unrelated",
    r"\bsurest\b": "most certain",
    r"\bwhat (it )?stands? for\b": "definition",
    r"\b(is|are) told\b": "is shown, is reported",
    r"\bso many\b": "a number of",
    r"\bthe wider the\b": "wider where",
    r"\bby more than chance\b": "significantly; name the test in the details",
    r"\bset aside\b": "excluded",
    r"\bfurthest beyond\b": "strongest",
    r"\bwhole window\b": "full screen",
    r"\bas it is now\b": "current",
    r"\bamiss\b": "wrong",
    r"\brightly\b": "correctly",
    r"\bat hand\b": "available",
    r"\bthrough with\b": "done with",
    r"≤": "p <",
    r"\bheld equal\b": "controlled for",
    r"% %|%%(?!\))": "one sign",
    r"\w\(s\)": "singular or plural",
}
PATTERNS = [(re.compile(pattern, re.IGNORECASE), better) for pattern, better in ODD.items()]
QUOTED = re.compile(
    r"\"([^\"\n]{3,})\"|'([^'\n]{8,})'|`([^`\n]{3,})`|>\s*([^<>{}\n]{3,})\s*<|^\s+([A-Z][^<>{};=]{8,})$"
)


def python_strings(path: Path) -> Iterator[tuple[int, str]]:
    """Line and content of every string with a blank in it that is no docstring."""
    tree = ast.parse(path.read_text())
    described = (ast.Module, ast.FunctionDef, ast.ClassDef, ast.AsyncFunctionDef)
    bodies = [node.body[0] for node in ast.walk(tree) if isinstance(node, described) and node.body]
    docstrings = {id(first.value) for first in bodies if isinstance(first, ast.Expr)}
    for node in ast.walk(tree):
        is_text = isinstance(node, ast.Constant) and isinstance(node.value, str) and " " in node.value
        if is_text and id(node) not in docstrings:
            yield node.lineno, node.value


def web_strings(path: Path) -> Iterator[tuple[int, str]]:
    """Line and content of strings and text of elements, but for names of classes."""
    for number, line in enumerate(path.read_text().splitlines(), 1):
        for match in QUOTED.finditer(line):
            words = next((group for group in match.groups() if group), "")
            if " " in words and "className" not in line[: match.start()][-12:]:
                yield number, words


def lines_of(path: Path) -> Iterator[tuple[int, str]]:
    yield from enumerate(path.read_text().splitlines(), 1)


def odd_lines(root: Path = ROOT) -> list[str]:
    """Each odd wording with its place and what to write instead."""
    readers = [(path, python_strings) for path in sorted(root.glob("src/winnower/**/*.py"))]
    readers += [
        (path, web_strings) for path in sorted(root.glob("web/src/**/*.tsx")) if ".test." not in path.name
    ]
    readers += [(path, lines_of) for path in (*sorted(root.glob("docs/help/*.md")), root / "README.md")]
    found = []
    for path, read in readers:
        if "migrations" in path.parts:
            continue
        lines = path.read_text().splitlines()
        for number, words in read(path):
            if "words: ok" in lines[min(number, len(lines)) - 1]:
                continue
            for pattern, better in PATTERNS:
                if hit := pattern.search(words):
                    place = f"{path.relative_to(root)}:{number}"
                    found.append(f"{place}: “{hit.group(0)}” (better: {better}): {words.strip()[:90]}")
    return found


if __name__ == "__main__":
    odd = odd_lines()
    print("\n".join(odd))
    sys.exit(bool(odd))
