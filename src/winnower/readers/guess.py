"""What a column is, guessed from its name, in several languages, and from its values."""

from __future__ import annotations

import re
from collections.abc import Sequence

from winnower.core.dates import parse_date, parse_time
from winnower.core.numbers import guess_decimal, is_name, parse_number

#: Words for the roles in English, German, French, Spanish, Italian, Dutch, Portuguese, Polish, Russian, Chinese, Japanese
#: and Arabic.
NAMES = {
    "text": r"text|body|content|article|post|message|answer|full ?text|comment|transcript|abstract|"
    r"volltext|inhalt|artikel|beitrag|nachricht|antwort|kommentar|texte|contenu|corps|r[ée]ponse|"
    r"commentaire|texto|contenido|cuerpo|respuesta|comentario|testo|contenuto|corpo|risposta|commento|"
    r"tekst|inhoud|bericht|antwoord|reactie|conte[úu]do|resposta|coment[áa]rio|tre[śs][ćc]|"
    r"odpowied[źz]|komentarz|tweet|текст|статья|сообщение|ответ|комментарий|содержание|正文|内容|內容|全文|文本|回答|评论|"
    r"本文|テキスト|コメント|投稿|نص|النص|المحتوى|المقال|الإجابة|التعليق",
    "title": r"title|headline|heading|head|subject|name|titel|[üu]berschrift|schlagzeile|betreff|titre|objet|"
    r"t[íi]tulo|titular|asunto|titolo|oggetto|kop|onderwerp|assunto|tytu[łl]|nag[łl][óo]wek|temat|заголовок|название|тема|标题|標題|题目|"
    r"タイトル|題名|見出し|عنوان|العنوان|الموضوع",
    "source": r"source|outlet|paper|publication|medium|publisher|newspaper|channel|quelle|zeitung|"
    r"herausgeber|m[ée]dia|journal|fuente|medio|peri[óo]dico|fonte|testata|giornale|bron|krant|"
    r"jornal|ve[íi]culo|[źz]r[óo]d[łl]o|gazeta|источник|издание|газета|сми|来源|來源|媒体|媒體|报纸|"
    r"出典|新聞|掲載紙|مصدر|المصدر|الصحيفة",
    "date": r"date|answered|published|publication date|day|created(?: at)?|posted|time|timestamp|datum|tag|"
    r"ver[öo]ffentlicht(?: am)?|erschienen|zeit|zeitpunkt|publi[ée](?: le)?|fecha|d[íi]a|publicado|"
    r"data|pubblicato|giorno|gepubliceerd|dag|dzie[ńn]|opublikowano|дата|дата публикации|опубликовано|"
    r"日期|发布日期|发表时间|时间|時間|日付|日時|掲載日|公開日|تاريخ|التاريخ|تاريخ النشر",
    "key": r"id|nr|key|url|link|guid|uid|record|number|doi|respondent|ref|nummer|kennung|num[ée]ro|"
    r"identifiant|n[úu]mero|numero|numer|identyfikator|lfd nr|номер|идентификатор|ссылка|编号|編號|序号|"
    r"链接|网址|番号|リンク|رقم|الرقم|المعرف|الرابط",
}  # fmt: skip
#: Names that have such a word in them and speak of something else.
_NOT = {
    "source": r"\b(?:dates?|datum|fecha|data|day|time|published|year|jahr|type)\b",
    "text": r"\b(?:id|count|length|words|type|date|datum|number|nr)\b",
    "title": r"\b(?:job|id)\b",
}
_LIST = re.compile(r"\s*\[.*\]\s*", re.DOTALL)
#: The sign that stands for a list as programs write it, ["a", "b"].
BRACKETS = "[]"
_TAGGED = re.compile(r"[#@][\w.]+(?:[\s,]+[#@][\w.]+)*")


def plain_name(name: str) -> str:
    """A column's name as it is compared: small letters, words apart."""
    parted = re.sub(r"(?<=[a-zà-ÿ])(?=[A-Z])", " ", name.strip())
    return " ".join(re.sub(r"[_.:/\-]+", " ", parted).lower().split())


def known_name(cell: str) -> bool:
    """Whether a cell is one of the names columns have."""
    return any(re.fullmatch(rf"(?:{words})", plain_name(cell)) for words in NAMES.values())


def named(role: str, name: str, *, whole: bool) -> bool:
    """Whether a column's name speaks of a role: as a ``whole``, or among other words."""
    plain = plain_name(name)
    if re.fullmatch(rf"(?:{NAMES[role]})", plain):
        return True
    other = role in _NOT and re.search(_NOT[role], plain)
    return not whole and not other and bool(re.search(rf"\b(?:{NAMES[role]})\b", plain))


def guess_kind(values: Sequence[str]) -> tuple[str, str]:
    """Kind of a variable, and the sign that parts several values in a cell, or a comma where that is the decimal sign."""
    if not values:
        return "text", ";"
    different = set(values)
    if (parting := _separator(values, different)) is not None:
        return "several", parting
    decimal = guess_decimal(different)
    if all(parse_number(v, decimal) is not None for v in different) and not any(map(is_name, different)):
        sign = "," if decimal == "," else ";"
        return ("number" if len(different) > 1 or len(values) == 1 else "category"), sign
    if all(parse_date(v) or parse_date(v, False) for v in different):
        return "date", ";"
    short = max(map(len, different)) <= 100
    return ("category" if short and len(different) <= max(20, len(values) // 2) else "text"), ";"


def has_times(values: Sequence[str]) -> bool:
    """Whether dates come with a time of day; midnight everywhere is none."""
    return any(time is not None and not time.startswith("00:00") for time in map(parse_time, values))


def _separator(values: Sequence[str], different: set[str]) -> str | None:
    """The sign that parts several values: its parts come again, alone or with others."""
    if all(_LIST.fullmatch(value) for value in different):
        return BRACKETS
    if all(_TAGGED.fullmatch(value) for value in different) and any(" " in value for value in different):
        return "," if any("," in value for value in different) else " "
    for sign in (";", "|", "\n", ","):
        parted = [value for value in values if sign in value]
        if not parted:
            continue
        parts = [part.strip() for value in values for part in value.split(sign)]
        kinds = {part for part in parts if part}
        alone = {value.strip() for value in values if sign not in value}
        often = len(parted) >= max(2, len(values) * 0.1)
        seen_alone = any(part.strip() in alone for value in parted for part in value.split(sign))
        if not (often or seen_alone) or len(kinds) > max(30, len(values) // 2):
            continue
        if sign != "," or _a_comma_parts(kinds, different):
            return sign
    return None


def _a_comma_parts(kinds: set[str], different: set[str]) -> bool:
    """A comma also stands in sentences and numbers: its parts must be short, no numbers, and come again."""
    if any(len(kind) > 40 or len(kind.split()) > 4 for kind in kinds):
        return False
    if all(parse_number(value, ",") is not None for value in different):
        return False
    parts = sum(value.count(",") + 1 for value in different)
    return len(kinds) < len(different) or len(kinds) * 2 <= parts


def split_several(written: str, sign: str) -> list[str]:
    """The values in a cell."""
    if sign == BRACKETS:
        inner = written.strip()[1:-1] if _LIST.fullmatch(written) else written
        quoted = [a or b for a, b in re.findall(r"\"((?:[^\"\\]|\\.)*)\"|'((?:[^'\\]|\\.)*)'", inner)]
        return [part.strip() for part in (quoted or inner.split(","))]
    return [part.strip() for part in (written.split() if sign == " " else written.split(sign or ";"))]
