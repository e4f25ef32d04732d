"""Made-up records of articles, studies, reports and books for the search that ships: the same few thousand each time."""

from __future__ import annotations

import random
from dataclasses import dataclass
from functools import cache

from winnower.core.reference import Reference

SEED, RECORDS = 20310401, 3_200

_FAMILIES = [
    "Marrow",
    "Oduya",
    "Sandqvist",
    "Tarrock",
    "Penhale",
    "Vane",
    "Moorhead",
    "Oskell",
    "Keld",
    "Rakes",
    "Thirl",
    "Mossop",
    "Dyke",
    "Pell",
    "Hale",
    "Ostler",
    "Brandt",
    "Ferrier",
    "Quill",
    "Aune",
    "Lindqvist",
    "Okafor",
    "Varga",
    "Serrano",
    "Ishii",
    "Dufresne",
    "Nowak",
    "Halloran",
    "Petrosyan",
    "Achebe",
    "Wray",
    "Venn",
    "Tolland",
]
_GIVEN = [
    "Ada",
    "Bram",
    "Colm",
    "Della",
    "Edda",
    "Femi",
    "Greta",
    "Hugh",
    "Ilse",
    "Jory",
    "Kofi",
    "Lena",
    "Mira",
    "Noor",
    "Orla",
    "Petra",
    "Rosa",
    "Sunniva",
    "Tomas",
    "Una",
]
_OUTLETS: dict[str, tuple[tuple[str, str], ...]] = {
    "study": (
        ("Journal of Valley Studies", "Orrin Academic"), ("Upland Ecology Letters", "Stennet Press"),
        ("Rural Sociology of the Hills", "Orrin Academic"), ("Review of Predator Policy", "Kellpool House"),
        ("Media and Landscape", "Stennet Press"),
    ),
    "article": (
        ("Orrin Courier", ""), ("Hill Farmer", ""), ("Valley Wire", ""), ("The Lantern", ""), ("Birkmoor Gazette", ""),
    ),
    "report": (("Board of the Orrin Hills", ""), ("Inquiry Office Thirl Head", ""), ("Union of Hill Farms", "")),
    "book": (("Kellpool House", ""), ("Stennet Press", "")),
}  # fmt: skip
_KINDS = ("study",) * 9 + ("article",) * 7 + ("report",) * 3 + ("book",)
_TYPES = {"study": "article", "article": "newspaper article", "report": "report", "book": "book"}
_SUBJECTS: tuple[tuple[str, tuple[str, ...]], ...] = (
    ("compensation for lost lambs", ("compensation", "claims", "lambs")),
    ("the return of the lynx", ("lynx", "release", "rewilding")),
    ("browsing by roe deer in young birch", ("deer", "birch", "browsing")),
    ("trust in those who decide", ("trust", "governance", "inquiry")),
    ("fear of walking in the woods", ("fear", "safety", "woods")),
    ("hefted flocks and what is handed down", ("heft", "heritage", "flock")),
    ("visitors who come for the kittens", ("visitors", "wonder", "tourism")),
    ("how local papers frame the release", ("framing", "press", "lynx")),
    ("the cost of night watching", ("shepherds", "costs", "livestock")),
    ("camera traps and the counting of predators", ("camera traps", "monitoring", "lynx")),
    ("bell walks and other customs of the hill", ("custom", "bell walk", "heritage")),
    ("licences and who may end them", ("licence", "governance", "law")),
)
_FORMS = {
    "study": (
        "A survey of {}",
        "{}: evidence from three parishes",
        "What is known of {}",
        "Measuring {} over ten years",
    ),
    "article": (
        "{}: the board is asked again",
        "Neighbours divided over {}",
        "{} returns to the agenda",
        "A year of {}",
    ),
    "report": ("Report on {}", "{}: findings and advice", "Minutes and papers on {}"),
    "book": ("{}: a history", "Living with {}", "Thinking about {}"),
}
_DONE = (
    "We asked {n} households in {p} about {s}", "We counted tracks on {n} transects near {p} and looked at {s}",
    "We read {n} articles and minutes from {p} on {s}", "{n} people met at {p} to speak of {s}",
    "Claims of {n} farms around {p} were followed to learn of {s}",
)  # fmt: skip
_FOUND = (
    "{a} was named more often than {b}, and the difference held when sources were kept equal",
    "those who spoke of {a} seldom spoke of {b}", "{a} rose in the summer and fell after the inquiry",
    "neither {a} nor {b} explains the whole of it", "what is said of {a} depends on who is asked about {b}",
)  # fmt: skip
_ENDS = (
    "The numbers are small and should be read with care.", "A second round is planned for the spring.",
    "The board has not answered yet.", "Limits of the work are the few sites and the short time.",
    "Others should look at the same with their own eyes.",
)  # fmt: skip
_PLACES = (
    "Thirl Head",
    "Upper Orrin",
    "Nether Orrin",
    "Kellpool",
    "Birkmoor",
    "Mossdale",
    "Hollin Bridge",
    "Tarrock Bank",
)


@dataclass(frozen=True)
class Record:
    """A record as the service has it; ``authors`` as "Family, Given", ``words`` its abstract."""

    id: str
    kind: str
    title: str
    authors: tuple[str, ...]
    year: int
    outlet: str
    publisher: str
    volume: int
    pages: str
    subjects: tuple[str, ...]
    words: str

    @property
    def reference(self) -> Reference:
        of_outlet = self.kind in ("study", "article")
        return Reference(
            type=_TYPES[self.kind],
            title=self.title,
            authors="; ".join(self.authors),
            year=str(self.year),
            container=self.outlet if of_outlet else "",
            volume=str(self.volume) if self.kind == "study" else "",
            pages=self.pages if self.kind == "study" else "",
            publisher=self.publisher if of_outlet else self.outlet,
        )


@cache
def records() -> tuple[Record, ...]:
    """All records, in the order of their numbers."""
    chance = random.Random(SEED)
    return tuple(_record(chance, number) for number in range(1, RECORDS + 1))


def _record(chance: random.Random, number: int) -> Record:
    kind = chance.choice(_KINDS)
    subject, words = chance.choice(_SUBJECTS)
    beside = chance.choice([one for one in _SUBJECTS if one[0] != subject])
    place = chance.choice(_PLACES)
    outlet, publisher = chance.choice(_OUTLETS[kind])
    title = chance.choice(_FORMS[kind]).format(subject)
    if chance.random() < 0.6:
        title = f"{title} in {place}"
    first = chance.randint(1, 380)
    said = [
        chance.choice(_DONE).format(n=chance.randint(12, 940), p=place, s=subject) + ".",
        f"We find that {chance.choice(_FOUND).format(a=words[0], b=beside[1][0])}.",
        f"{chance.choice(_FOUND).format(a=chance.choice(words), b=beside[1][1]).capitalize()}.",
        chance.choice(_ENDS),
    ]
    return Record(
        id=f"VR-{number:04}",
        kind=kind,
        title=title[:1].upper() + title[1:],
        authors=tuple(
            f"{family}, {chance.choice(_GIVEN)}" for family in chance.sample(_FAMILIES, chance.randint(1, 4))
        ),
        year=chance.randint(2009, 2031),
        outlet=outlet,
        publisher=publisher,
        volume=chance.randint(1, 44),
        pages=f"{first}-{first + chance.randint(4, 28)}",
        subjects=(*words, beside[1][0]),
        words=" ".join(said),
    )
