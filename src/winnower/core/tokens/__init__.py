"""Tokens, sentences, paragraphs and normal forms of texts."""

from winnower.core.tokens.forms import bare, clean, fold
from winnower.core.tokens.split import TokenBatch, is_unspaced, split_texts, tokens_of

__all__ = ["TokenBatch", "bare", "clean", "fold", "is_unspaced", "split_texts", "tokens_of"]
