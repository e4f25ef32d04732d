"""The language a text is in, by its letters."""

from __future__ import annotations

from functools import cache
from typing import Any

LEAST_CHARS = 40
MOST_CHARS = 1_500
SURE = 0.9
UNSURE = "not sure"
#: ISO 639-1 codes to what people call them.
LANGUAGES = {
    "en": "English", "de": "German", "fr": "French", "es": "Spanish", "it": "Italian", "pt": "Portuguese",
    "nl": "Dutch", "sv": "Swedish", "da": "Danish", "no": "Norwegian", "nb": "Norwegian", "nn": "Norwegian",
    "fi": "Finnish", "pl": "Polish", "cs": "Czech", "sk": "Slovak", "hu": "Hungarian", "ro": "Romanian",
    "bg": "Bulgarian", "hr": "Croatian", "sr": "Serbian", "sl": "Slovenian", "bs": "Bosnian", "el": "Greek",
    "tr": "Turkish", "ru": "Russian", "uk": "Ukrainian", "be": "Belarusian", "et": "Estonian",
    "lv": "Latvian", "lt": "Lithuanian", "is": "Icelandic", "ga": "Irish", "cy": "Welsh", "eu": "Basque",
    "ca": "Catalan", "gl": "Galician", "mt": "Maltese", "sq": "Albanian", "mk": "Macedonian", "ar": "Arabic",
    "he": "Hebrew", "fa": "Persian", "ur": "Urdu", "hi": "Hindi", "bn": "Bengali", "ta": "Tamil",
    "te": "Telugu", "th": "Thai", "vi": "Vietnamese", "id": "Indonesian", "ms": "Malay", "zh": "Chinese",
    "ja": "Japanese", "ko": "Korean", "af": "Afrikaans", "sw": "Swahili", "la": "Latin", "eo": "Esperanto",
}  # fmt: skip


@cache
def _identifier() -> Any:
    from py3langid.langid import MODEL_FILE, LanguageIdentifier

    return LanguageIdentifier.from_model_file(MODEL_FILE, norm_probs=True)


def language_of(body: str) -> str:
    """The language's name; "not sure" for short texts and where the letters do not decide.

    Method: naive Bayes over letter sequences (Lui and Baldwin 2012, langid.py).
    """
    if len(body) < LEAST_CHARS:
        return UNSURE
    code, share = _identifier().classify(body[:MOST_CHARS])
    return LANGUAGES.get(code, code) if share >= SURE else UNSURE
