"""Reference lists as tables: RIS, BibTeX, and the XML that reference managers exchange."""

from __future__ import annotations

import logging
import re
from collections.abc import Iterator
from typing import Any, BinaryIO

from lxml import etree

from winnower.core.errors import ReadError
from winnower.readers.containers import local, parse_xml
from winnower.readers.files import read_up_to
from winnower.readers.plain import decoded
from winnower.readers.problems import Problem
from winnower.readers.reasons import why
from winnower.readers.tables import Batch

_MEDLINE = re.compile(r"^PMID *- ", re.MULTILINE)
_MEDLINE_TAGS = {
    "TI": "TI", "AB": "AB", "FAU": "AU", "DP": "PY", "JT": "JO", "VI": "VL", "IP": "IS", "PG": "SP", "MH": "KW",
    "OT": "KW", "LA": "LA",
}  # fmt: skip
logging.getLogger("bibtexparser").setLevel(logging.CRITICAL)

#: One column for each; authors and keywords hold several values, parted by a semicolon.
HEADER = [
    "key", "type", "title", "authors", "year", "date", "container", "volume", "issue", "pages",
    "publisher", "place", "doi", "url", "keywords", "language", "abstract", "note", "text",
]  # fmt: skip
MAX_BYTES = 500_000_000
_RIS_TYPES = {
    "JOUR": "article", "MGZN": "magazine article", "NEWS": "newspaper article", "BOOK": "book",
    "CHAP": "chapter", "CONF": "conference paper", "CPAPER": "conference paper", "THES": "thesis",
    "RPRT": "report", "ELEC": "web page", "BLOG": "web page", "GEN": "other",
}  # fmt: skip
_BIB_TYPES = {
    "article": "article", "book": "book", "incollection": "chapter", "inbook": "chapter",
    "inproceedings": "conference paper", "conference": "conference paper", "phdthesis": "thesis",
    "mastersthesis": "thesis", "techreport": "report", "online": "web page",
}  # fmt: skip
_YEAR = re.compile(r"\b(1[5-9]\d\d|2\d\d\d)\b")


#: What a block of BibTeX that failed is to be told as, by its kind.
_OF_BLOCK = {
    "DuplicateBlockKeyBlock": "another entry before it has the same key",
    "DuplicateFieldKeyBlock": "it holds a field twice",
    "MiddlewareErrorBlock": "a sign written as a command is not known",
}


_RECORDS = re.compile(rb"<(?:[\w.-]+:)?(?:record|mods|PubmedArticle)[\s>]")
_REFERENCE_ROOTS = re.compile(
    rb"<(?:[\w.-]+:)?(?:mods|modsCollection|PubmedArticleSet|ref-type|contributors|titles)[\s>]"
)


def is_reference_list(content: bytes) -> bool:
    """Whether XML is a list of references as reference managers and catalogues exchange them."""
    return bool(_RECORDS.search(content)) and bool(_REFERENCE_ROOTS.search(content))


class ReferenceReader:
    """Records of a reference list; a record that cannot be read is named and passed over."""

    delimiter = ""

    def __init__(self, raw: BinaryIO, file: str, *, form: str, encoding: str | None = None) -> None:
        self.file, self.header = file, HEADER
        self.problems: list[Problem] = []
        self.notices: list[str] = []
        content = read_up_to(raw, MAX_BYTES)
        self.encoding = encoding or "utf-8"
        if form == "xml":
            self._records = list(self._xml(content))
        else:
            text, told = decoded(content, encoding)
            self.notices += told
            self._records = list(self._ris(text) if form == "ris" else self._bibtex(text))
        if not self._records:
            reason = self.problems[0].reason if self.problems else "There are no records in it."
            raise ReadError(f"{file} cannot be read as a reference list. {reason}")

    def batches(self) -> Iterator[Batch]:
        batch = Batch()
        for number, record in self._records:
            batch.rows.append([record.get(name, "") for name in HEADER])
            batch.lines.append(number)
        yield batch

    def _ris(self, text: str) -> Iterator[tuple[int, dict[str, str]]]:
        """Cut into records first, so that one that is broken does not take the others along."""
        import rispy

        lines = (_ris_of_medline(text) if _MEDLINE.search(text[:5_000]) else text).splitlines()
        begins = [at for at, line in enumerate(lines) if re.match(r"TY  ?-", line)]
        for at, end in zip(begins, [*begins[1:], len(lines)], strict=True):
            written = [line for line in lines[at:end] if line.strip()]
            if not re.match(r"ER  ?-", written[-1]):
                written.append("ER  - ")
            try:
                found = rispy.loads("\n".join(written) + "\n", skip_unknown_tags=True)
            except (OSError, ValueError, KeyError, IndexError, AttributeError) as error:
                self.problems.append(Problem(self.file, at + 1, f"This record cannot be read: {why(error)}."))
                continue
            if found:
                yield at + 1, _from_ris(found[0])

    def _bibtex(self, text: str) -> Iterator[tuple[int, dict[str, str]]]:
        import bibtexparser
        from bibtexparser import middlewares as m

        # in LaTeX a per cent sign begins a comment and an ampersand parts columns; in most titles they are what they are
        text = re.sub(r"(?<!\\)([%&])", r"\\\1", text)
        library = bibtexparser.parse_string(text, append_middleware=[m.LatexDecodingMiddleware()])
        for block in library.failed_blocks:
            line = (block.start_line or 0) + 1
            reason = _OF_BLOCK.get(type(block).__name__, "its brackets or quotation marks do not fit")
            self.problems.append(Problem(self.file, line, f"This entry cannot be read: {reason}."))
        for entry in library.entries:
            fields = {key.lower(): str(field.value) for key, field in entry.fields_dict.items()}
            yield (entry.start_line or 0) + 1, _from_bibtex(entry.key, entry.entry_type.lower(), fields)

    def _xml(self, content: bytes) -> Iterator[tuple[int, dict[str, str]]]:
        root = parse_xml(content, "reference list")
        for element in root.iter():
            if local(element) in ("record", "mods", "PubmedArticle") and len(element):
                yield element.sourceline or 0, _from_xml(element)


def _ris_of_medline(text: str) -> str:
    """A list in the form of medical databases (.nbib), whose tags have another meaning, as RIS."""
    out: list[str] = []
    tag = ""
    for line in text.splitlines():
        if found := re.match(r"([A-Z]{2,4}) *- (.*)", line):
            tag, value = found[1], found[2].strip()
            if tag == "PMID":
                out += [*(["ER  - "] if out else []), "TY  - JOUR", f"ID  - {value}"]
            elif tag in ("LID", "AID") and value.endswith("[doi]"):
                out.append(f"DO  - {value.removesuffix('[doi]').strip()}")
            elif tag in _MEDLINE_TAGS:
                out.append(f"{_MEDLINE_TAGS[tag]}  - {value[:4] if tag == 'DP' else value}")
        elif line.startswith("      ") and out and tag in _MEDLINE_TAGS:
            out[-1] += f" {line.strip()}"
    return "\n".join([*out, "ER  - "])


def _from_ris(found: dict[str, Any]) -> dict[str, str]:
    def one(*names: str) -> str:
        for name in names:
            value = found.get(name)
            if value:
                return "; ".join(value) if isinstance(value, list) else str(value)
        return ""

    pages = "–".join(part for part in (one("start_page"), one("end_page")) if part)
    date = one("date", "publication_year", "year")
    year = _YEAR.search(one("year", "publication_year") or date)
    return {
        "key": one("doi", "id", "accession_number"),
        "type": _RIS_TYPES.get(one("type_of_reference"), one("type_of_reference").lower()),
        "title": one("primary_title", "title"),
        "authors": one("authors", "first_authors", "secondary_authors"),
        "year": year[1] if year else "",
        "date": date.strip("/").replace("/", "-") if re.fullmatch(r"\d{4}/\d\d?(/\d\d?)?/?.*", date) else "",
        "container": one("secondary_title", "journal_name", "alternate_title1", "alternate_title2"),
        "volume": one("volume"),
        "issue": one("number"),
        "pages": pages,
        "publisher": one("publisher"),
        "place": one("place_published"),
        "doi": one("doi"),
        "url": one("urls", "url"),
        "keywords": one("keywords"),
        "language": one("language"),
        "abstract": one("abstract", "notes_abstract"),
        "note": one("notes"),
    }


def _from_bibtex(key: str, kind: str, fields: dict[str, str]) -> dict[str, str]:
    def one(*names: str) -> str:
        value = next((fields[name] for name in names if fields.get(name)), "")
        return " ".join(value.replace("{", "").replace("}", "").split())

    authors = "; ".join(
        part.strip() for part in re.split(r"\s+and\s+", one("author", "editor")) if part.strip()
    )
    return {
        "key": one("doi") or key,
        "type": _BIB_TYPES.get(kind, kind),
        "title": one("title"),
        "authors": authors,
        "year": (_YEAR.search(one("year", "date")) or [""])[0],
        "date": one("date"),
        "container": one("journal", "journaltitle", "booktitle"),
        "volume": one("volume"),
        "issue": one("number", "issue"),
        "pages": one("pages").replace("--", "–"),
        "publisher": one("publisher", "institution", "school"),
        "place": one("address", "location"),
        "doi": one("doi"),
        "url": one("url"),
        "keywords": one("keywords").replace(",", ";") if ";" not in one("keywords") else one("keywords"),
        "language": one("language", "langid"),
        "abstract": one("abstract"),
        "note": one("note", "annote"),
    }


_XML_PATHS = {
    "title": (".//titles/title", ".//titleInfo/title", ".//ArticleTitle"),
    "container": (".//titles/secondary-title", ".//periodical/full-title", ".//relatedItem/titleInfo/title", ".//Journal/Title"),
    "year": (".//dates/year", ".//dateIssued", ".//PubDate/Year"),
    "volume": (".//volume", ".//JournalIssue/Volume"),
    "issue": (".//number", ".//JournalIssue/Issue"),
    "pages": (".//pages", ".//MedlinePgn"),
    "publisher": (".//publisher",),
    "place": (".//pub-location", ".//placeTerm"),
    "doi": (".//electronic-resource-num", ".//identifier[@type='doi']", ".//ArticleId[@IdType='doi']"),
    "url": (".//urls//url", ".//location/url"),
    "language": (".//language", ".//languageTerm"),
    "abstract": (".//abstract", ".//Abstract"),
    "note": (".//notes", ".//note"),
    "key": (".//rec-number", ".//recordIdentifier", ".//PMID"),
}  # fmt: skip


def _from_xml(element: etree._Element) -> dict[str, str]:
    """Fields by the names the common exchange forms give them, whatever their namespace."""
    for inner in element.iter():
        if isinstance(inner.tag, str):
            inner.tag = local(inner)

    def words(found: etree._Element) -> str:
        return " ".join("".join(found.itertext()).split())

    out = {}
    for name, paths in _XML_PATHS.items():
        found = next((words(e) for path in paths for e in element.findall(path) if words(e)), "")
        out[name] = found
    authors = [words(e) for e in element.findall(".//contributors/authors/author")]
    authors += [", ".join(words(p) for p in e.findall("namePart")) for e in element.findall("name")]
    authors += [
        ", ".join(part for part in (e.findtext("LastName"), e.findtext("ForeName")) if part)
        for e in element.findall(".//AuthorList/Author")
    ]
    out["authors"] = "; ".join(author for author in authors if author)
    keywords = [words(e) for e in element.iter("keyword", "topic", "Keyword")]
    out["keywords"] = "; ".join(dict.fromkeys(k for k in keywords if k))
    kind = element.find(".//ref-type")
    out["type"] = (kind.get("name", "") if kind is not None else element.findtext(".//genre") or "").lower()
    out["year"] = (_YEAR.search(out["year"]) or [""])[0]
    out["key"] = out["doi"] or out["key"]
    return out
