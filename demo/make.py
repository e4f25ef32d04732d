"""Make the demo corpus: ``python -m demo.make``. The same seed gives the same files."""

from __future__ import annotations

import datetime as dt
import random
import re
from pathlib import Path

from demo import formats
from demo.banks import names, news, voices
from demo.grammar import FRAMES, Writer, tidy

SEED = 2031
FOLDER = Path(__file__).parent / "files"
#: What each sentence is about, to check against; not part of the corpus.
TRUTH = "truth.csv.gz"
#: Mix of frames by source, in the order of FRAMES: livelihood, ecology, fear, heritage, governance, wonder.
MIX = {
    "Orrin Courier": (20, 18, 14, 10, 26, 12),
    "Hill Farmer": (46, 6, 8, 18, 18, 4),
    "Valley Wire": (16, 14, 28, 6, 22, 14),
    "The Lantern": (12, 30, 8, 14, 18, 18),
    "Posts": (14, 12, 30, 5, 13, 26),
    "Survey": (20, 14, 22, 12, 20, 12),
}
#: How often a frame is taken up by month, over its usual share.
SEASONS = {
    4: {"livelihood": 2.2, "fear": 1.4},
    5: {"livelihood": 1.6, "heritage": 1.7},
    6: {"governance": 1.8, "livelihood": 1.4},
    9: {"governance": 2.4},
    10: {"wonder": 2.8, "fear": 0.6},
    11: {"wonder": 1.4, "heritage": 1.3},
}
NEWS = (
    ("Orrin Courier", 226, (13, 30)),
    ("Hill Farmer", 140, (16, 35)),
    ("Valley Wire", 196, (8, 18)),
    ("The Lantern", 92, (22, 42)),
)
SECTIONS = {
    "Orrin Courier": ("Local", "Letters", "Opinion"),
    "Hill Farmer": ("Market", "News", "Comment"),
    "Valley Wire": ("News", "Live"),
    "The Lantern": ("Country", "Long read", "Science"),
}
POSTS, RESPONDENTS = 430, 138
#: The second delivery begins here, and brings what was new from OVERLAP_FROM on once more.
OVERLAP_FROM, SECOND_FROM = "2031-10-15", "2031-11-01"
#: How often each sentence with a homonym stands in the news.
TRAPS_EACH = 5


class Demo:
    """Everything written with one seed."""

    def __init__(self) -> None:
        self.w = Writer(SEED)
        self.rng: random.Random = self.w.rng
        self.traps = list(news.TRAPS) * TRAPS_EACH
        self.rng.shuffle(self.traps)

    def frames(self, source: str, month: int, count: int) -> list[str]:
        weights = [
            share * SEASONS.get(month, {}).get(frame, 1.0)
            for share, frame in zip(MIX[source], FRAMES, strict=True)
        ]
        main = self.rng.choices(FRAMES, weights)[0]
        return [
            main if self.rng.random() < 0.45 else self.rng.choices(FRAMES, weights)[0] for _ in range(count)
        ]

    def people(self, frame: str) -> list[str]:
        special = {
            "ecology": names.SCIENTISTS,
            "governance": names.OFFICIALS,
            "wonder": names.VISITORS,
            "fear": names.PARENTS,
        }
        return list(special.get(frame, names.FARMERS))

    def day(self, year: int = 2031) -> dt.date:
        weights = [5, 5, 6, 11, 9, 12, 7, 6, 13, 12, 8, 6]
        month = self.rng.choices(range(1, 13), weights)[0]
        return dt.date(year, month, self.rng.randint(1, 28))

    def sentence(self, frame: str, month: int) -> str:
        roll, people = self.rng.random(), self.people(frame)
        other = self.rng.choice(FRAMES)
        if roll < 0.34:
            return self.w.fresh(news.QUOTE, frame, other, people)
        if roll < 0.66:
            return self.w.fresh(news.SAID, frame, other, people, reported=True)
        if roll < 0.74:
            return self.w.fresh(news.REPORT[frame], frame, other, people, of=frame)
        if roll < 0.90:
            return self.w.scene()
        if roll < 0.92 and month in news.EVENTS:
            return self.w.fresh(news.EVENTS[month], frame, other, people)
        if roll < 0.925 and self.traps:
            template = self.traps.pop()
            return self.w.fresh([template], frame, other, people)
        return self.w.fresh(news.PLAIN, frame, other, people, most=4)

    def article(self, source: str, day: dt.date, length: int) -> tuple[str, str]:
        self.w.new_text()
        frames = self.frames(source, day.month, length)
        main = max(sorted(set(frames)), key=frames.count)
        headline = tidy(self.w.expand(self.w.pick(news.HEADLINES[main]), main, None, self.people(main)))
        sentences = [self.w.fresh(news.OPENINGS[source], main, None, self.people(main), most=6)]
        if day.month in news.EVENTS and self.rng.random() < 0.7:
            sentences.append(self.w.fresh(news.EVENTS[day.month], main, None, self.people(main), most=6))
        sentences += [self.sentence(frame, day.month) for frame in frames]
        sentences.append(self.w.fresh(news.ENDINGS, main, None, self.people(main), most=12))
        return headline.rstrip("."), self.paragraphs(sentences)

    def paragraphs(self, sentences: list[str], shortest: int = 2, longest: int = 4) -> str:
        out, at = [], 0
        while at < len(sentences):
            size = self.rng.randint(shortest, longest)
            out.append(" ".join(sentences[at : at + size]))
            at += size
        return "\n\n".join(out)

    def news(self) -> list[dict]:
        rows = []
        for source, count, (shortest, longest) in NEWS:
            for _ in range(count):
                day = self.day()
                headline, body = self.article(source, day, self.rng.randint(shortest, longest))
                rows.append(self.row(source, day, headline, body))
        rows += self.agency()
        rows.append(self.long_read())
        rows += [self.row("Valley Wire", self.day(), "Picture: fog on the Long Rigg", "") for _ in range(2)]
        rows.sort(key=lambda row: (row["published"], row["outlet"], row["headline"]))
        for number, row in enumerate(rows, 1):
            row["id"] = f"N{number:04d}"
        return rows

    def row(self, source: str, day: dt.date, headline: str, body: str) -> dict:
        return {
            "id": "",
            "outlet": source,
            "published": day.isoformat(),
            "headline": headline,
            "byline": self.w.pick(names.BYLINES[source]),
            "section": self.w.pick(SECTIONS[source]),
            "article": body,
        }

    def agency(self) -> list[dict]:
        """One report in four outlets, each with its own small edits."""
        title, _, body = self.w._fill(news.AGENCY, ["Una Tarrock"]).partition("\n\n")
        edits = {
            "Orrin Courier": (title, body),
            "Hill Farmer": (
                "Proven: four lambs killed by lynx",
                body.replace("expressed regret and said", "said"),
            ),
            "Valley Wire": (f"{title} (agency)", body.rsplit("\n\n", 1)[0]),
            "The Lantern": (
                "First proven losses to released lynx",
                body.replace("a tenant at", "who farms at").replace("near", "close to"),
            ),
        }
        rows = []
        for at, (source, (headline, text)) in enumerate(edits.items()):
            row = self.row(source, dt.date(2031, 4, 16 + (at > 1)), headline, text)
            rows.append(row | {"byline": "Agency"})
        return rows

    def long_read(self) -> dict:
        """One article of about nine thousand words, mostly on one frame: it must not decide a result."""
        self.w.new_text()
        parts, words = [], 0
        while words < 9_000:
            frame = "heritage" if self.rng.random() < 0.6 else self.rng.choice(FRAMES)
            sentence = self.sentence(frame, 11)
            parts.append(sentence)
            words += len(sentence.split())
        body = self.paragraphs(parts, 4, 7)
        return self.row(
            "The Lantern",
            dt.date(2031, 11, 8),
            "The year of the lynx: a valley, its bells and its quarrel",
            body,
        )

    def posts(self) -> list[dict]:
        rows = []
        for number in range(1, POSTS + 1):
            day = self.day()
            frame = self.frames("Posts", day.month, 1)[0]
            template = self.w.pick(voices.POST_FORMS)
            template = (
                template.replace("{emoji}", "EMOJI").replace("{tag}", "TAG").replace("{weekday}", "$weekday")
            )
            self.w.new_text()
            text = self.w.fresh([template], frame, self.rng.choice(FRAMES), self.people(frame))
            while "EMOJI" in text:
                text = text.replace("EMOJI", self.w.pick(voices.POST_EMOJI[frame]), 1)
            text = text.replace("TAG", self.w.pick(voices.POST_TAGS[frame]))
            if self.rng.random() < 0.5:
                text = self.misspell(text)
            if self.rng.random() < 0.3:
                text = text[:1].lower() + text[1:]
            rows.append(
                {
                    "post_id": f"P{number:04d}",
                    "posted": day.strftime("%d/%m/%Y"),
                    "account_type": self.rng.choices(
                        ("resident", "visitor", "group", "unknown"), (5, 2, 1, 2)
                    )[0],
                    "reposts": min(int(self.rng.expovariate(0.12)), 240),
                    "post": text,
                }
            )
        rows[211]["post"] = voices.FOREIGN_POST
        return rows

    def misspell(self, text: str) -> str:
        for right, wrong in voices.MISSPELLINGS.items():
            if right in text and self.rng.random() < 0.35:
                return text.replace(right, wrong)
        return text

    def survey(self) -> list[dict]:
        rows, number = [], 0
        for respondent in range(1, RESPONDENTS + 1):
            person = {
                "respondent": f"R{respondent:03d}",
                "age band": self.rng.choices(voices.AGES, (2, 3, 5, 6, 5))[0],
                "parish": self.w.pick(names.PARISHES),
                "occupation": self.rng.choices(voices.OCCUPATIONS, (5, 3, 3, 3, 3, 5, 2, 2))[0],
                "heard first from": "; ".join(
                    self.rng.sample(voices.HEARD, self.rng.choices((1, 2, 3), (5, 3, 1))[0])
                ),
                "answered": dt.date(2031, 11, self.rng.randint(3, 28)).isoformat(),
            }
            keeps = person["occupation"] == "farming" or self.rng.random() < 0.15
            person["keeps animals"] = "yes" if keeps else "no"
            for question, templates in zip(
                voices.SURVEY_QUESTIONS, (voices.SURVEY_MEANING, voices.SURVEY_NEXT), strict=True
            ):
                number += 1
                rows.append(
                    {
                        "answer id": f"A{number:04d}",
                        **person,
                        "question": question,
                        "answer": self.answer(templates, keeps),
                    }
                )
        return rows

    def answer(self, templates: tuple[str, ...], keeps: bool) -> str:
        self.w.new_text()
        if self.rng.random() < 0.07:
            return self.w.pick(voices.SURVEY_SHORT)
        frame = "livelihood" if keeps and self.rng.random() < 0.5 else self.frames("Survey", 11, 1)[0]
        count = self.rng.choices((1, 2, 3), (4, 4, 2))[0]
        return " ".join(self.w.fresh(templates, frame, self.rng.choice(FRAMES)) for _ in range(count))

    def interviews(self) -> dict[str, str]:
        return {
            f"interview {at:02d} {person}.txt": self.interview(person, place, main, second)
            for at, (person, _, place, main, second) in enumerate(voices.INTERVIEWS, 1)
        }

    def interview(self, person: str, place: str, main: str, second: str) -> str:
        self.w.new_text()
        short = person.removeprefix("Dr ").split()[0]
        lines = [
            f"Interview with {person}, {place}, {self.day().strftime('%d %B %Y')}",
            f"Interviewer: {self.w.pick(voices.OPENERS)}",
        ]
        lines.append(f"{short}: " + " ".join(self.w.fresh(voices.ANSWER, main, second) for _ in range(4)))
        asked: set[str] = set()
        for turn in range(34):
            frame = main if turn % 3 == 0 else second if turn % 3 == 1 else self.rng.choice(FRAMES)
            questions = [q for q in voices.QUESTIONS[frame] if q not in asked]
            if questions:
                question = self.w.pick(questions)
            else:
                question = self.w.pick(
                    (
                        "Could you say more about that?",
                        "How do you mean?",
                        "Was it always so?",
                        "And what did people say?",
                        "Can you give an example?",
                        "Go on.",
                    )
                )
            asked.add(question)
            lines.append(f"Interviewer: {question}")
            sentences = [
                self.w.fresh(voices.ANSWER, frame, self.rng.choice(FRAMES))
                for _ in range(self.rng.randint(4, 9))
            ]
            if self.rng.random() < 0.3:
                sentences.insert(
                    self.rng.randint(0, len(sentences)), self.w.fresh(voices.FILL, frame, most=5)
                )
            lines.append(f"{short}: " + " ".join(sentences))
        lines += [
            "Interviewer: Is there anything I should have asked?",
            f"{short}: " + self.w.fresh(voices.ANSWER, main, second),
        ]
        return "\n\n".join(lines) + "\n"

    def studies(self) -> list[dict]:
        rows = []
        for number, (title, frame) in enumerate(voices.STUDIES * 4, 1):
            place = self.w.pick(voices.STUDY_PLACES)
            abstract = ""
            if number <= 34:
                abstract = " ".join(
                    tidy(self.w.expand(part, frame, self.rng.choice(FRAMES))) for part in voices.ABSTRACT
                )
            journal = self.w.pick(voices.JOURNALS) if self.rng.random() < 0.8 else ""
            first = self.rng.randint(1, 380)
            rows.append(
                {
                    "reference": f"S{number:03d}",
                    "authors": self.rng.sample(
                        voices.AUTHORS, self.rng.choices((1, 2, 3, 4), (2, 4, 3, 1))[0]
                    ),
                    "year": self.rng.randint(2012, 2030),
                    "title": title if number <= 15 else f"{title}: evidence from {place}",
                    "journal": journal,
                    "volume": self.rng.randint(2, 48),
                    "pages": (first, first + self.rng.randint(8, 26)),
                    "publisher": "Orrin Valley Institute",
                    "keywords": self.rng.sample(voices.KEYWORDS[frame], 2) + ["lynx"],
                    "abstract": abstract,
                }
            )
        return rows


def main() -> None:
    """Write all files: the first delivery of each source in its own format, a second one, the rest."""
    FOLDER.mkdir(exist_ok=True)
    demo = Demo()
    rows = demo.news()
    posts, survey = demo.posts(), demo.survey()
    studies, interviews = demo.studies(), demo.interviews()
    _first_delivery([row for row in rows if row["published"] < SECOND_FROM])
    overlap = [
        r for r in rows if OVERLAP_FROM <= r["published"] < SECOND_FROM and r["outlet"] != "The Lantern"
    ]
    late = [r for r in rows if r["published"] >= SECOND_FROM]
    long_reads = sorted(late, key=lambda r: -len(r["article"]))[:1]
    formats.write_csv(
        FOLDER / "second-delivery.csv", overlap + [r for r in late if r not in long_reads], "utf-8-sig"
    )
    for row in long_reads:
        formats.write_pdf(FOLDER / "the-lantern-long-read.pdf", row)
    formats.write_json_lines(FOLDER / "posts.jsonl", [_post(row) for row in posts])
    formats.write_csv(FOLDER / "survey.csv", wide(survey), delimiter=";")
    formats.write_references(FOLDER / "studies.ris", studies)
    _interviews(interviews)
    formats.write_truth(FOLDER.parent / TRUTH, demo.w.truth)


def _first_delivery(rows: list[dict]) -> None:
    """One format for each paper."""
    of = {source: [row for row in rows if row["outlet"] == source] for source, _, _ in NEWS}
    columns = ("id", "headline", "outlet", "published", "section", "byline", "article")
    courier = [{name: row[name] for name in columns} for row in of["Orrin Courier"]]
    formats.write_workbook(
        FOLDER / "orrin-courier.xlsx",
        {
            "January to June": [row for row in courier if row["published"] < "2031-07-01"],
            "July to October": [row for row in courier if row["published"] >= "2031-07-01"],
        },
    )
    formats.write_csv(FOLDER / "hill-farmer.csv", of["Hill Farmer"], "cp1252")
    formats.write_feed(FOLDER / "valley-wire.rss", "Valley Wire", of["Valley Wire"])
    lantern = of["The Lantern"]
    titles = [row["headline"] for row in lantern[:5]]
    pages = {
        f"{row['published']} {row['id']}.html": formats.web_page(row, titles).encode() for row in lantern
    }
    # at this level no run of packed bytes happens to read as a word
    formats.write_zip(FOLDER / "the-lantern-pages.zip", pages, level=1)


def _post(row: dict) -> dict:
    """A post as a network gives it: nested, with its tags as a list."""
    day = dt.datetime.strptime(row["posted"], "%d/%m/%Y").date()
    return {
        "id": row["post_id"],
        "created": day.isoformat(),
        "account": {"type": row["account_type"]},
        "reach": {"reposts": row["reposts"]},
        "tags": re.findall(r"#(\w+)", row["post"]),
        "text": row["post"],
    }


def wide(answers: list[dict]) -> list[dict]:
    """One row a respondent, one column a question."""
    people: dict[str, dict] = {}
    for row in answers:
        about = {name: row[name] for name in row if name not in ("answer id", "question", "answer")}
        people.setdefault(row["respondent"], about)[row["question"]] = row["answer"]
    return list(people.values())


def _interviews(interviews: dict[str, str]) -> None:
    """Transcripts as they come in: most from Word, some as rich text, some plain."""
    folder = FOLDER / "interviews"
    folder.mkdir(exist_ok=True)
    for at, (name, text) in enumerate(interviews.items()):
        paragraphs = text.strip().split("\n\n")
        stem = folder / name.removesuffix(".txt")
        if at % 3 == 2:
            formats.write_rtf(stem.with_name(f"{stem.name}.rtf"), paragraphs[0], paragraphs)
        elif at % 4 == 3:
            (folder / name).write_text(text, encoding="utf-8")
        else:
            comment = (3, "Mira Tolland", "Ask again about the spring count.") if at == 0 else None
            formats.write_word(stem.with_name(f"{stem.name}.docx"), paragraphs[0], paragraphs, comment)


if __name__ == "__main__":
    main()
