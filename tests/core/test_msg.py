"""Mails in compound files, written here by hand after the open specification."""

import datetime as dt
import struct

import pytest

from winnower.core.errors import ReadError
from winnower.readers.documents import read_all

SECTOR = 512
FREE, END, FAT = 0xFFFFFFFF, 0xFFFFFFFE, 0xFFFFFFFD


def compound(streams):
    """A compound file (version 3) with streams right under its root; none in a mini stream."""
    sectors, chains, starts = [], [], []
    streams = {name: data.ljust(4096, b"\0") for name, data in streams.items()}  # none is small
    for data in streams.values():
        blocks = [data[at : at + SECTOR].ljust(SECTOR, b"\0") for at in range(0, len(data), SECTOR)]
        first = len(sectors)
        starts.append(first)
        sectors += blocks
        chains += [*range(first + 1, first + len(blocks)), END]
    entries = [("Root Entry", 5, 1 if streams else FREE, END, 0)]
    for at, (name, data) in enumerate(streams.items()):
        right = at + 2 if at + 1 < len(streams) else FREE
        entries.append((name, 2, right, starts[at], len(data)))
    directory = b"".join(_entry(at, *entry) for at, entry in enumerate(entries))
    blocks = [directory[at : at + SECTOR].ljust(SECTOR, b"\0") for at in range(0, len(directory), SECTOR)]
    first_directory = len(sectors)
    sectors += blocks
    chains += [*range(first_directory + 1, first_directory + len(blocks)), END]
    fat_at = len(sectors)
    chains.append(FAT)
    fat = struct.pack(f"<{len(chains)}I", *chains).ljust(SECTOR, b"\xff")
    head = struct.pack(
        "<8s16sHHHHH6xIIIIIIIII", b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1", b"", 0x3E, 3, 0xFFFE, 9, 6, 0, 1,
        first_directory, 0, 4096, END, 0, END, 0,
    )  # fmt: skip
    difat = struct.pack("<I", fat_at).ljust(436, b"\xff")
    return head + difat + b"".join(sectors) + fat


def _entry(at, name, kind, sibling, start, size):
    wide = name.encode("utf-16-le") + b"\0\0"
    right, child = (FREE, sibling) if kind == 5 else (sibling, FREE)
    return (
        wide.ljust(64, b"\0")
        + struct.pack("<HBBIII", len(wide), kind, 1, FREE, right, child)
        + b"\0" * 36
        + struct.pack("<IQ", start, size)
    )


def mail(**changes):
    ticks = int((dt.datetime(2031, 6, 3, 10) - dt.datetime(1601, 1, 1)).total_seconds()) * 10_000_000
    sent = b"\0" * 32 + struct.pack("<HHIQ", 0x0040, 0x0039, 0, ticks)
    given = {
        "__substg1.0_0037001F": "Nine pages".encode("utf-16-le"),
        "__substg1.0_1000001F": "The lambs are gone.\r\n\r\nNobody says why.".encode("utf-16-le"),
        "__substg1.0_0C1A001F": "Ann Bore".encode("utf-16-le"),
        "__properties_version1.0": sent,
    } | changes
    return compound({name: data for name, data in given.items() if data})


def test_a_mail_in_a_compound_file():
    (found,) = read_all("mail", mail(), "a.msg", 10_000)
    assert found.body == "The lambs are gone.\n\nNobody says why."
    assert (found.title, found.author, found.date) == ("Nine pages", "Ann Bore", "2031-06-03 10:00")


def test_a_mail_as_a_page_and_in_narrow_letters():
    changes = {
        "__substg1.0_1000001F": b"",
        "__substg1.0_10130102": b"<p>Birch is back.</p>",
        "__substg1.0_0037001F": b"",
        "__substg1.0_0037001E": "Sch\u00e4fer".encode("cp1252"),
    }
    (found,) = read_all("mail", mail(**changes), "a.msg", 10_000)
    assert (found.title, found.body) == ("Sch\u00e4fer", "Birch is back.")


@pytest.mark.parametrize(
    "content", [compound({"other": b"x" * 600}), mail()[:700], mail()[:512] + b"\xff" * 900]
)
def test_what_is_no_mail_gives_a_sentence(content):
    with pytest.raises(ReadError) as refused:
        read_all("mail", content, "a.msg", 10_000)
    assert refused.value.message.endswith(".")
