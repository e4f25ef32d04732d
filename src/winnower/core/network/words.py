"""What a network says in plain words, and how it was made."""

from __future__ import annotations

from winnower.core.compare.statement import Statement
from winnower.core.compare.targets import MethodPart
from winnower.core.compare.wording import names
from winnower.core.network.build import WordNetwork
from winnower.core.network.request import Network

#: Links that do not hold are warned of from this share on, topics below this share of pairs of words that stay.
MANY_WEAK, LEAST_STAYS = 0.2, 0.75


def topic_name(found: WordNetwork, topic: int) -> str:
    """A topic by its three words with the strongest ties inside."""
    return ", ".join(found.names[at] for at in found.topics[topic].words[:3])


def network_statements(asked: Network, found: WordNetwork) -> list[Statement]:
    """The topics, what holds them together, the widest gap, and what to beware of."""
    many = f"{asked.within}s"
    out = []
    if not found.topics:
        return [Statement("note", "No topics were found: too few words are linked to each other.")]
    largest = max(range(len(found.topics)), key=lambda at: int(found.units_of_topic[at]))
    name = topic_name(found, largest)
    out.append(
        Statement(
            "gap",
            f"{len(found.topics)} topics among {len(found.names)} words; the most frequent is {name}, in "
            f"{int(found.units_of_topic[largest]):,} of {found.units:,} {many} and {int(found.texts_of_topic[largest]):,} texts.",
            (name,),
        )
    )
    middle = sorted(range(len(found.names)), key=lambda at: -found.betweenness[at])[:3]
    if found.betweenness[middle[0]] > 0:
        out.append(
            Statement(
                "note",
                f"Words that connect most others (highest betweenness): {', '.join(found.names[at] for at in middle)}.",
            )
        )
    if found.gaps:
        gap = found.gaps[0]
        bridges = ", ".join(found.names[at] for at in gap.bridges) or "no word"
        out.append(
            Statement(
                "note",
                f"Least connected topics: “{topic_name(found, gap.first)}” and “{topic_name(found, gap.second)}” share "
                f"{gap.ratio:.0%} of the links expected from their size. Words that connect both: {bridges}.",
            )
        )
    out += _firm(found)
    if found.units < 1_000:
        out.append(
            Statement(
                "warning",
                f"Only {found.units:,} {many}: single texts can add or remove links.",
            )
        )
    if found.alone:
        out.append(Statement("note", f"{found.alone:,} words have no strong enough link and are left out."))
    return out


def _firm(found: WordNetwork) -> list[Statement]:
    """Links and topics that do not hold."""
    out = []
    weak, links = int((~found.holds).sum()), len(found.holds)
    if weak:
        kind = "warning" if weak > MANY_WEAK * links else "note"
        are = "link is" if weak == 1 else "links are"
        out.append(
            Statement(
                kind,
                f"{weak:,} of {links:,} {are} not significantly stronger than between shuffled words; they are drawn faint.",
            )
        )
    loose = [at for at in range(len(found.topics)) if found.stays[at] < LEAST_STAYS]
    if loose:
        named = [f"{found.stays[at]:.0%} in “{topic_name(found, at)}”" for at in loose]
        which = f"{len(loose):,} of {len(found.topics):,} topics"
        if len(loose) == len(found.topics):
            which = f"All {len(loose):,} topics" if len(loose) > 1 else "The topic"
        out.append(
            Statement(
                "warning",
                f"{which} {'changes' if which.startswith(('1 ', 'The')) else 'change'} when texts are drawn again; the share of "
                f"pairs of words that stay together is {names(named)}. Read topics as suggestions.",
            )
        )
    return out


def network_method(asked: Network, found: WordNetwork, language: str) -> list[MethodPart]:
    """How it was made."""
    merged = {
        "none": "",
        "lemma": f", all forms of a lemma as one ({language})",
        "stem": f", one for each stem ({language})",
    }
    stop = " that are not on the stop list" if asked.stop else ""
    return [
        MethodPart(
            "Words and ties",
            f"The {asked.most} words in most texts{stop}{merged[asked.merge]}, in {found.units:,} {asked.within}s of "
            f"{found.texts_in_scope:,} texts. Two are tied where {asked.least:,} {asked.within}s or more have both and their "
            f"normalised PMI is {asked.floor:g} or more; each keeps its {asked.ties} strongest ties.",
            "Normalised PMI: Bouma (2009), Proceedings of GSCL.",
        ),
        MethodPart(
            "Topics",
            "Communities by the Leiden algorithm on modularity with the strength of ties as weights "
            f"(resolution {asked.resolution:g}, seed {asked.seed}). Other seeds or resolutions can part words otherwise: a topic "
            "is a proposal to read by. A passage is of a topic where a unit has two different words of it.",
            "Traag, Waltman and van Eck (2019), Scientific Reports 9.",
        ),
        MethodPart(
            "Stability",
            "A link holds where its words are together significantly more often than words shuffled among the units would be, "
            "each unit keeping its number of words (texts drawn again, false discovery rate 5%). A topic stays by the share of its "
            "pairs of words that are in one topic again, on average over texts drawn again.",
            "Newman (2010), Networks; Benjamini and Hochberg (1995), JRSS B 57; Hennig (2007), Computational Statistics and Data Analysis 52.",
        ),
        MethodPart(
            "Gaps",
            "The strength of ties between two topics over what the strengths of all their ties would give. Bridges are the words "
            "whose mean PMI with the words of both is largest.",
            "Newman (2006), PNAS 103; betweenness: Brandes (2001), Journal of Mathematical Sociology 25.",
        ),
    ]
