"""What is one token, written as expressions for a linear-time engine.

A token is a run of letters, digits and marks with inner apostrophes and hyphens. A web address, an
e-mail address, a hashtag, a mention, a number with its separators and an emoji are one token each;
in scripts written without spaces a run of characters is cut into words (unspaced.py). Signs of trade such as ® are no emoji, a
soft hyphen parts no word, a hashtag may be in any script.
"""

#: Scripts without spaces, and the sign that lengthens a vowel in two of them.
UNSPACED = r"\p{Han}\p{Hiragana}\p{Katakana}\p{Thai}\p{Lao}\p{Khmer}\p{Myanmar}\x{30FC}\x{FF70}"
_LETTER = rf"[[\p{{L}}\p{{N}}\p{{M}}]--[{UNSPACED}]]"
_JOINER = r"['’ʼ\-\x{2010}\x{2011}\x{00AD}]"
_TRADE = r"©®\x{2122}"
_PICTURE = rf"(?:[\p{{Extended_Pictographic}}--[{_TRADE}]]\x{{FE0F}}?|[{_TRADE}]\x{{FE0F}})[\x{{1F3FB}}-\x{{1F3FF}}]?"

TOKEN = "|".join(
    [
        r"(?:https?://|www\.)[^\s<>\"“”]*[^\s<>\"“”'’)\].,;:!?]",
        r"[\p{L}\p{N}][\p{L}\p{N}._%+\-]*@[\p{L}\p{N}\-]+(?:\.[\p{L}\p{N}\-]+)+",
        rf"[#@][\p{{L}}\p{{N}}][\p{{L}}\p{{N}}\p{{M}}\x{{30FC}}_]*(?:-{_LETTER}+)*",
        r"[0-9#*]\x{FE0F}?\x{20E3}",
        r"\p{N}+(?:[.,]\p{N}+)+",
        rf"{_LETTER}+(?:{_JOINER}{_LETTER}+)*",
        rf"[{UNSPACED}][{UNSPACED}\p{{M}}]*",
        r"\p{Regional_Indicator}{2}",
        r"\x{1F3F4}[\x{E0020}-\x{E007E}]+\x{E007F}",
        rf"{_PICTURE}(?:\x{{200D}}{_PICTURE})*",
    ]
)
_GAP = r"[^\p{L}\p{N}\p{M}#@*\p{Extended_Pictographic}\p{Regional_Indicator}]+"

#: Cuts a text into tokens and the gaps between them; joined again they give the text.
PIECE = rf"{TOKEN}|{_GAP}|(?s:.)"

#: A piece of PIECE that is a token. Lone marks and signs count as gaps.
IS_TOKEN = rf"^(?:{TOKEN})$"

#: Tokens that count as words in rates: those with a letter or a digit.
IS_WORD = r"[\p{L}\p{N}]"

#: A gap that can end a sentence: closing punctuation, closing quotes or brackets, then white space.
SENTENCE_GAP = r"[.!?…][.!?…\"'”’»)\]]*\s|[。！？]"
ENDS_WITH_STOP = r"^\.\s"
BLANK_LINE = r"\n[^\S\n]*\n"

#: A full stop after these does not end a sentence.
ABBREVIATIONS = frozenset(
    [
        "mr",
        "mrs",
        "ms",
        "dr",
        "prof",
        "rev",
        "hon",
        "st",
        "mt",
        "vs",
        "etc",
        "cf",
        "approx",
        "dept",
        "est",
        "fig",
        "vol",
        "ed",
        "eds",
        "pp",
        "jan",
        "feb",
        "mar",
        "apr",
        "jun",
        "jul",
        "aug",
        "sep",
        "sept",
        "oct",
        "nov",
        "dec",
        "bzw",
        "usw",
        "nr",
        "ca",
        "hr",
        "fr",
        "sra",
        "mme",
        "mlle",
    ]
)
