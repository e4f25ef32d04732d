"""A catalogue of small files as programs and people write them, with what must come out of each.

Each case is a file's name and bytes, and what is expected of some of: ``texts`` (how each begins), ``titles``,
``sources``, ``dates``, ``values`` (of a variable, by name), ``turns`` (who speaks, text by text), ``holds`` (words
in any of the texts).
"""

from __future__ import annotations

import io
import zipfile
from dataclasses import dataclass, field
from typing import Any

import xlsxwriter

ONE = "The lynx was seen by the upper gate, and the flock was brought in before dark."
TWO = "Compensation for nine lambs was asked for at the market in Orrin on Saturday."
THREE = "Nobody on the board could say how many sheep are kept above the birch wood."
BODIES = (ONE, TWO, THREE)
HEADS = ("Nine pages", "Lambs at market", "No count")
DAYS = ("2031-06-03", "2031-06-14", "2031-07-01")
PAPERS = ("Hill Farmer", "Orrin Courier", "Hill Farmer")


@dataclass(frozen=True)
class Case:
    name: str
    content: bytes
    texts: tuple[str, ...] = BODIES
    titles: tuple[str, ...] | None = None
    sources: tuple[str | None, ...] | None = None
    dates: tuple[str | None, ...] | None = None
    values: dict[str, tuple[Any, ...]] = field(default_factory=dict)
    turns: tuple[tuple[str, ...], ...] | None = None
    holds: tuple[str, ...] = ()


def _day(iso: str, form: str) -> str:
    import datetime as dt

    day = dt.date.fromisoformat(iso)
    return form.format(d=day, y=day.year, m=day.month, n=day.day)


def tables() -> list[Case]:
    """The same three rows under many signs, encodings, line ends, languages and ways of writing dates."""
    out = []
    heads = {
        "en": ("id", "headline", "date", "source", "text"),
        "de": ("Nr", "Überschrift", "Datum", "Quelle", "Volltext"),
        "fr": ("numéro", "titre", "date", "journal", "texte"),
        "es": ("número", "título", "fecha", "medio", "texto"),
        "it": ("numero", "titolo", "data", "testata", "testo"),
        "nl": ("nummer", "titel", "datum", "krant", "tekst"),
        "pt": ("número", "título", "data", "jornal", "texto"),
        "pl": ("numer", "tytuł", "data", "źródło", "treść"),
    }
    forms = {
        "iso": "{d}", "dots": "{n:02}.{m:02}.{y}", "slash": "{n:02}/{m:02}/{y}", "us": "{m:02}/{n:02}/{y}",
        "stamp": "{d}T10:00:00Z", "time": "{d} 10:00", "compact": "{y}{m:02}{n:02}",
    }  # fmt: skip
    expected: dict[str, Any] = {"titles": HEADS, "sources": PAPERS, "dates": DAYS}

    def add(
        name: str, header: tuple[str, ...], sign: str, form: str, encoding: str, ends: str = "\n"
    ) -> None:
        def cell(value: str) -> str:
            return f'"{value}"' if sign in value else value

        lines = [sign.join(header)]
        for at in range(3):
            row = (str(at + 1), HEADS[at], _day(DAYS[at], forms[form]), PAPERS[at], BODIES[at])
            lines.append(sign.join(map(cell, row)))
        out.append(Case(name, (ends.join(lines) + ends).encode(encoding), **expected))

    for language, header in heads.items():
        for sign, ending in ((",", "csv"), (";", "csv"), ("\t", "tsv"), ("|", "csv")):
            kind = {",": "comma", ";": "semicolon", "\t": "tab", "|": "bar"}[sign]
            add(f"{language}-{kind}.{ending}", header, sign, "iso", "utf-8")
    for form in forms:
        add(f"dates-{form}.csv", heads["en"], ",", form, "utf-8")
    for encoding in ("utf-8-sig", "utf-16", "utf-16-le", "utf-16-be", "cp1252"):
        add(f"encoding-{encoding}.csv", heads["de"], ";", "dots", encoding)
    add("windows.csv", heads["en"], ",", "iso", "utf-8", "\r\n")
    add("old-mac.csv", heads["en"], ",", "iso", "utf-8", "\r")
    return out


def shapes() -> list[Case]:
    """Tables with titles above, two rows of headings, none, and other shapes."""
    rows = "".join(f'{at + 1},{HEADS[at]},{DAYS[at]},"{BODIES[at]}"\n' for at in range(3))
    answers = "".join(f'{at + 1},{31 + at},"{BODIES[at]}"\n' for at in range(3))
    return [
        Case("plain.csv", ("id,title,date,text\n" + rows).encode(), titles=HEADS, dates=DAYS),
        Case("said.csv", ("sep=,\nid,title,date,text\n" + rows).encode(), titles=HEADS),
        Case("above.csv", ("Export of the archive\n\nid,title,date,text\n" + rows).encode(), titles=HEADS),
        Case("wide-above.csv", ("Export,,,\n3 June,,,\nid,title,date,text\n" + rows).encode(), titles=HEADS),
        Case("empty-lines.csv", ("\n\nid,title,date,text\n\n" + rows + "\n\n").encode(), titles=HEADS),
        Case("spaces.csv", (" id , title , date , text \n" + rows).encode(), titles=HEADS),
        Case("one-column.csv", ("text\n" + "\n".join(BODIES) + "\n").encode()),
        Case("quoted-column.csv", ("answer\n" + "".join(f'"{b}"\n' for b in BODIES)).encode()),
        Case("no-headings.csv", rows.encode()),
        Case("worded.csv", ("nr,age,q1\nNumber,How old are you?,What do you think of it?\n" + answers).encode(),
             values={"age. How old are you?": (31.0, 32.0, 33.0)}),
        Case("grouped.csv", ("Person,,Answer\nnr,age,text\n" + answers).encode()),
        Case("short-rows.csv", ("id,title,date,text\n" + rows + "4,Short\n").encode(), titles=HEADS),
        Case("html.csv", ("id,text\n" + "".join(f'{i},"<p>{b}</p>"\n' for i, b in enumerate(BODIES))).encode()),
        Case("entities.csv", ("id,title,text\n" + "".join(
            f'{i},A &amp; B,"{b}"\n' for i, b in enumerate(BODIES))).encode(), titles=("A & B",) * 3),
        Case("names.csv", ("code,text\n" + "".join(f'00{i},"{b}"\n' for i, b in enumerate(BODIES))).encode(),
             values={"code": ("000", "001", "002")}),
        Case("numbers.csv", ("shares;text\n" + "".join(
            f"{v};{b}\n" for v, b in zip(("1,5", "2,75", "10"), BODIES, strict=True))).encode(),
             values={"shares": (1.5, 2.75, 10.0)}),
        Case("reach.csv", ("reach;text\n" + "".join(
            f"{v};{b}\n" for v, b in zip(("1.2K", "300", "4M"), BODIES, strict=True))).encode(),
             values={"reach": (1200.0, 300.0, 4e6)}),
        Case("percent.csv", ("share;text\n" + "".join(
            f"{v};{b}\n" for v, b in zip(("12 %", "3 %", "7 %"), BODIES, strict=True))).encode(),
             values={"share": (12.0, 3.0, 7.0)}),
        Case("tags.csv", ("tags;text\n" + "".join(
            f"{v};{b}\n" for v, b in zip(("#lynx #orrin", "#lynx", "#orrin #lynx"), BODIES, strict=True))).encode(),
             values={"tags": (("#lynx", "#orrin"), ("#lynx",), ("#orrin", "#lynx"))}),
        Case("months.csv", ("date;text\n" + "".join(
            f"{v};{b}\n" for v, b in zip(("3. Juni 2031", "14. Juni 2031", "1. Juli 2031"), BODIES, strict=True))
             ).encode(), dates=DAYS),
        Case("jours.csv", ("date;texte\n" + "".join(
            f"{v};{b}\n" for v, b in zip(("3 juin 2031", "14 juin 2031", "1er juillet 2031"), BODIES, strict=True))
             ).encode(), dates=DAYS),
        Case("epoch.csv", ("created;text\n" + "".join(
            f"{v};{b}\n" for v, b in zip((1938211200, 1939161600, 1940630400), BODIES, strict=True))).encode(),
             dates=DAYS),
    ]  # fmt: skip


def workbooks() -> list[Case]:
    def book(rows: list[list[Any]], change: Any = None, hidden: bool = False) -> bytes:
        out = io.BytesIO()
        made = xlsxwriter.Workbook(out, {"default_date_format": "yyyy-mm-dd"})
        sheet = made.add_worksheet("texts")
        for at, row in enumerate(rows):
            sheet.write_row(at, 0, row)
        if hidden:
            made.add_worksheet("lists").write_row(0, 0, ["code", "label"])
            made.get_worksheet_by_name("lists").hide()
        if change:
            change(sheet)
        made.close()
        return out.getvalue()

    header = ["id", "title", "source", "text"]
    rows = [[at + 1, HEADS[at], PAPERS[at], BODIES[at]] for at in range(3)]
    merged = [[1, HEADS[0], "Hill Farmer", ONE], [2, HEADS[1], "", TWO], [3, HEADS[2], "Wire", THREE]]
    return [
        Case("book.xlsx", book([header, *rows]), titles=HEADS, sources=PAPERS),
        Case("titled.xlsx", book([["Export"], [], header, *rows]), titles=HEADS, sources=PAPERS),
        Case("hidden.xlsx", book([header, *rows], hidden=True), titles=HEADS),
        Case("merged.xlsx", book([header, *merged], lambda s: s.merge_range("C2:C3", "Hill Farmer")),
             sources=("Hill Farmer", "Hill Farmer", "Wire")),
    ]  # fmt: skip


def exports() -> list[Case]:
    """Many texts in one file."""
    out: list[Case] = []
    blocks = {
        "en": ("Headline: {h}\nSource: {p}\nDate: {d}\nBy: Ann Bore\n\n{b}\n"),
        "de": ("Überschrift: {h}\nQuelle: {p}\nDatum: {d}\nRessort: Land\n\n{b}\n"),
        "fr": ("Titre : {h}\nJournal : {p}\nDate : {d}\n\n{b}\n"),
        "labels": ("TITLE: {h}\nPUBLICATION: {p}\nDATE: {d}\nLENGTH: 14 words\nBODY:\n{b}\n"),
    }
    seps = {"": "\n", "rule": "\n-----\n", "stars": "\n* * *\n", "counted": None}
    for language, block in blocks.items():
        for name, sep in seps.items():
            pieces = [block.format(h=HEADS[at], p=PAPERS[at], d=DAYS[at], b=BODIES[at]) for at in range(3)]
            if sep is None:
                body = "".join(f"Document {at + 1} of 3\n\n{piece}\n" for at, piece in enumerate(pieces))
            else:
                body = sep.join(pieces)
            out.append(
                Case(f"press-{language}-{name or 'plain'}.txt", body.encode(), titles=HEADS, sources=PAPERS,
                     dates=DAYS)
            )  # fmt: skip
    longer = tuple(f"{b} {THREE} {ONE}" for b in BODIES)
    out += [
        Case("rules.txt", "\n=====\n".join(longer).encode(), texts=longer),
        Case("long-rules.txt", ("\n" + "_" * 40 + "\n").join(longer).encode(), texts=longer),
        Case("counted.txt", "".join(f"Dokument {i + 1} von 3\n{b}\n" for i, b in enumerate(longer)).encode(),
             texts=longer),
        Case("chat.txt", "".join(
            f"{_day(d, '{n:02}/{m:02}/{y}')}, 10:2{i} - {w}: {b}\n"
            for i, (d, w, b) in enumerate(zip(DAYS + DAYS, ("Ann", "Bor") * 3, BODIES + BODIES, strict=True))
        ).encode(), texts=BODIES + BODIES, dates=DAYS + DAYS, values={"Author": ("Ann", "Bor") * 3}),
        Case("phone-chat.txt", "".join(
            f"[{_day(d, '{n:02}.{m:02}.{y}')}, 10:22:1{i}] {w}: {b}\n"
            for i, (d, w, b) in enumerate(zip(DAYS + DAYS, ("Ann", "Bor") * 3, BODIES + BODIES, strict=True))
        ).encode(), texts=BODIES + BODIES, dates=DAYS + DAYS),
        Case("one-letter.txt", (ONE + "\n\n" + TWO).encode(), texts=(ONE,)),
        Case("article.md", f"---\ntitle: Nine pages\n---\n# Nine pages\n\n{ONE}\n".encode(),
             texts=("Nine pages",), titles=("Nine pages",)),
    ]  # fmt: skip
    return out


def transcripts() -> list[Case]:
    talk = [
        ("I", "How long have you kept sheep here?"),
        ("B", ONE),
        ("I", "And since the lynx came?"),
        ("B", TWO),
    ]
    out = []
    forms = {
        "initials": [f"{who}: {said}" for who, said in talk],
        "names": [f"{'Interviewer' if who == 'I' else 'Ann Bore'}: {said}" for who, said in talk],
        "at": [f"@{who.lower()}nn: {said}" for who, said in talk],
        "timed": [f"[00:0{at}:10] {who}: {said}" for at, (who, said) in enumerate(talk)],
        "after": [f"{who} (00:0{at}:10): {said}" for at, (who, said) in enumerate(talk)],
    }
    names = {"initials": ("I", "B"), "names": ("Interviewer", "Ann Bore"), "at": ("inn", "bnn"),
             "timed": ("I", "B"), "after": ("I", "B")}  # fmt: skip
    for form, lines in forms.items():
        for gap, name in (("\n", "tight"), ("\n\n", "spaced")):
            first, second = names[form]
            out.append(
                Case(f"talk-{form}-{name}.txt", gap.join(lines).encode(), texts=(talk[0][1],),
                     turns=((first, second, first, second),))
            )  # fmt: skip
    out.append(
        Case("talk-fields.txt", ("Age: 34\nParish: Orrin\n\n" + "\n".join(forms["initials"])).encode(),
             texts=(talk[0][1],), turns=(("I", "B", "I", "B"),), values={"Age": (34.0,), "Parish": ("Orrin",)})
    )  # fmt: skip
    cues = [(0, 2, "Ann", ONE), (3, 6, "Bor", TWO), (7, 9, "Bor", THREE)]
    vtt = "WEBVTT\n\n" + "\n".join(
        f"00:00:0{a}.000 --> 00:00:0{b}.000\n<v {who}>{said}</v>\n" for a, b, who, said in cues
    )
    srt = "\n".join(
        f"{at}\n00:00:0{a},000 --> 00:00:0{b},000\n{said}\n" for at, (a, b, _, said) in enumerate(cues, 1)
    )
    named = srt.replace(ONE, f"Ann: {ONE}").replace(TWO, f"Bor: {TWO}").replace(THREE, f"Bor: {THREE}")
    out += [
        Case("meeting.vtt", vtt.encode(), texts=(ONE,), turns=(("Ann", "Bor"),)),
        Case("film.srt", srt.encode(), texts=(ONE,), turns=((),)),
        Case("named.srt", named.encode(), texts=(ONE,), turns=(("Ann", "Bor"),)),
        Case("windows.srt", srt.replace("\n", "\r\n").encode("utf-8-sig"), texts=(ONE,)),
    ]
    return out


def mails() -> list[Case]:
    head = "From: Ann Bore <ann@lantern.example>\nTo: board@orrin.example\nSubject: {h}\nDate: Tue, 03 Jun 2031 10:00:00 +0000\n"
    plain = head.format(h=HEADS[0]) + "Content-Type: text/plain; charset=utf-8\n\n" + ONE + "\n"
    page = head.format(h=HEADS[1]) + "Content-Type: text/html; charset=utf-8\n\n<p>" + TWO + "</p>\n"
    parts = (
        head.format(h=HEADS[2]) + 'MIME-Version: 1.0\nContent-Type: multipart/alternative; boundary="x"\n\n'
        f"--x\nContent-Type: text/plain\n\n{THREE}\n--x\nContent-Type: text/html\n\n<p>{THREE}</p>\n--x--\n"
    )
    box = "".join(f"From ann Tue Jun  3 10:00:00 2031\n{mail}\n" for mail in (plain, page, parts))
    saved = (
        "MIME-Version: 1.0\nSnapshot-Content-Location: https://lantern.example/a\n"
        'Content-Type: multipart/related; boundary="x"\n\n--x\nContent-Type: text/html; charset=utf-8\n\n'
        f"<html><head><title>{HEADS[0]}</title></head><body><p>{ONE}</p><p>{TWO}</p><p>{THREE}</p></body></html>\n--x--\n"
    )
    return [
        Case("one.eml", plain.encode(), texts=(ONE,), titles=HEADS[:1], dates=DAYS[:1], values={"Author": ("Ann Bore",)}),
        Case("page.eml", page.encode(), texts=(TWO,), titles=HEADS[1:2]),
        Case("parts.eml", parts.encode(), texts=(THREE,), titles=HEADS[2:]),
        Case("windows.eml", plain.replace("\n", "\r\n").encode(), texts=(ONE,)),
        Case("box.mbox", box.encode(), titles=HEADS, dates=(DAYS[0],) * 3),
        Case("saved.mhtml", saved.encode(), texts=(ONE,)),
    ]  # fmt: skip


def others() -> list[Case]:
    import json

    rows = [{"id": at, "title": HEADS[at], "source": PAPERS[at], "text": BODIES[at]} for at in range(3)]
    items = "".join(
        f"<item><title>{HEADS[i]}</title><pubDate>{_day(DAYS[i], '{n} Jun {y}' if i < 2 else '{n} Jul {y}')}</pubDate>"
        f"<description><![CDATA[<p>{BODIES[i]}</p>]]></description></item>"
        for i in range(3)
    )
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as packed:
        for at in range(3):
            packed.writestr(f"a/{HEADS[at]}.txt", BODIES[at])
    page = f"<html><head><title>{HEADS[0]}</title></head><body><p>{ONE}</p><p>{TWO}</p></body></html>"
    return [
        Case("rows.json", json.dumps(rows).encode(), titles=HEADS, sources=PAPERS),
        Case("inside.json", json.dumps({"data": rows}).encode(), titles=HEADS),
        Case("rows.jsonl", "\n".join(map(json.dumps, rows)).encode(), titles=HEADS, sources=PAPERS),
        Case("lines.json", "\n".join(map(json.dumps, rows)).encode(), titles=HEADS),
        Case("rows-bom.json", json.dumps(rows).encode("utf-8-sig"), titles=HEADS),
        Case("rows-utf16.json", json.dumps(rows, ensure_ascii=False).encode("utf-16"), titles=HEADS),
        Case("feed.rss", f"<rss version='2.0'><channel>{items}</channel></rss>".encode(), titles=HEADS, dates=DAYS),
        Case("pages.zip", out.getvalue(), texts=(TWO, ONE, THREE)),
        Case("page.html", page.encode(), texts=(ONE,), titles=HEADS[:1]),
        Case("page.htm", page.encode("cp1252"), texts=(ONE,)),
        Case("note.rtf", (r"{\rtf1\ansi " + ONE + r"\par " + TWO + "}").encode(), texts=(ONE,)),
        Case("plain.log", ONE.encode(), texts=(ONE,)),
        Case("latin.txt", f"Schäfer über Höfe. {ONE}".encode("cp1252"), texts=("Schäfer über Höfe.",)),
        Case("utf16.txt", ONE.encode("utf-16"), texts=(ONE,)),
    ]  # fmt: skip


CASES = [*tables(), *shapes(), *workbooks(), *exports(), *transcripts(), *mails(), *others()]
