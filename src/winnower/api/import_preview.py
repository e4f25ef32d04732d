"""What the first look at a delivery shows, as the interface takes it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import asdict

from winnower.api import schemas as s
from winnower.jobs.look import SAMPLES, LotLook
from winnower.jobs.look_summary import InNumbers
from winnower.jobs.sources import mapping_to_plain
from winnower.readers import Lot, Mapping
from winnower.readers.documents import WITH_ENCODING
from winnower.readers.earlier import Line
from winnower.readers.prepare import PreparedTexts

SAMPLE_CHARS = 240


def lot_preview(one: LotLook, lines: Sequence[Line]) -> s.LotPreview:
    """How one kind of file of a delivery would be read."""
    lot = one.lot
    return s.LotPreview(
        headings=_rows(lot.headings),
        aside=one.aside,
        cut=s.CutPublic(
            texts=one.cut.texts,
            files=one.cut.files,
            lines=[s.CutLinePublic(**line._asdict()) for line in one.cut.lines],
            speakers=list(one.cut.speakers),
            wrapped=one.cut.wrapped,
            head_fields=[s.HeadField(name=name, texts=texts) for name, texts in one.cut.head_fields],
            marks=[s.CutMark(**mark._asdict()) for mark in one.cut.marks],
            levels=[s.CutHeadings(level=level, headings=count) for level, count in one.cut.levels],
        ),
        sources=[s.SourceChoicePublic(way=c.way, examples=list(c.examples)) for c in one.sources],
        rule=one.mapping.rule,  # type: ignore[arg-type]
        identifying=list(one.mapping.identifying),
        lines=[s.LinePublic(token=line.token, name=line.name) for line in lines],
        key=lot.key,
        kind=lot.kind,
        label=lot.label,
        is_table=lot.is_table,
        files=len(lot.origins),
        names=[f"{o.name}, sheet {o.sheet}" if o.sheet else o.name for o in lot.origins[:5]],
        encoding=one.choice.encoding or lot.encoding,
        delimiter=one.choice.delimiter or lot.delimiter,
        has_encoding=lot.kind in ("table", "ris", "bibtex", *WITH_ENCODING),
        cuts=_cuts(lot),
        choice=s.LotChoiceModel(
            mapping=_mapping_model(one.mapping),
            encoding=one.choice.encoding,
            delimiter=one.choice.delimiter,
            headings=one.choice.headings,
            records=one.choice.records,
            cut=one.choice.cut,  # type: ignore[arg-type]
            cut_line=one.choice.cut_line,
            cut_marks=one.choice.cut_marks,  # type: ignore[arg-type]
            speakers=one.choice.speakers,
            keep_lines=one.choice.keep_lines,
            head_fields=one.choice.head_fields,
            leave_out=one.choice.leave_out,
        ),
        kept=one.kept,
        reason=one.reason,
        header=lot.header,
        lists=lot.lists,
        rows=[[cell[:SAMPLE_CHARS] for cell in row] for row in one.rows],
        samples=_samples(one.samples),
        doubts=[s.DoubtPublic(**doubt._asdict()) for doubt in one.doubts],
        renumbered=one.renumbered[0],
        numbers=_numbers(one.numbers),
    )


def _numbers(found: InNumbers) -> s.LookNumbers:
    plain = asdict(found)
    plain["first"], plain["last"] = _shown(found.first), _shown(found.last)
    plain["sources"] = [s.SourceCount(name=name, texts=texts) for name, texts in found.sources]
    plain["odd"] = [s.OddTextPublic(**{**asdict(odd), "date": _shown(odd.date)}) for odd in found.odd]
    return s.LookNumbers(**plain)


def _rows(places: tuple[int, ...]) -> str:
    """Heading rows as people count them."""
    if not places:
        return "none"
    return str(places[0] + 1) if len(places) == 1 else f"{places[0] + 1}-{places[-1] + 1}"


def _cuts(lot: Lot) -> list[str]:
    """How documents of this kind can be cut into texts."""
    if lot.is_table:
        return []
    by_kind = {"pdf": ["page", "heading"], "text": ["messages"], "word": ["heading", "bold"]}
    places = by_kind.get(lot.kind, [] if lot.kind in ("rtf", "mail", "subtitles") else ["heading"])
    return ["file", *places, "fields", "origin", "counter", "line", "begins"]


def _mapping_model(mapping: Mapping) -> s.MappingModel:
    plain = mapping_to_plain(mapping)
    plain.pop("notes")
    return s.MappingModel(**plain)


def _samples(texts: PreparedTexts) -> list[s.TextSample]:
    out = []
    for at in range(min(len(texts), SAMPLES)):
        values = {name: _shown(column[at]) for name, column in texts.values.items()}
        date, extra = texts.date[at], texts.extra[at]
        out.append(
            s.TextSample(
                title=texts.title[at],
                source=texts.source[at],
                date=date.isoformat() if date else None,
                values=values,
                start=texts.body[at][:SAMPLE_CHARS],
                placeholder=not texts.body[at],
                notes=len(extra.remarks) if extra else 0,
            )
        )
    return out


def _shown(value):
    if isinstance(value, tuple):
        return list(value)
    return value.isoformat() if hasattr(value, "isoformat") else value
