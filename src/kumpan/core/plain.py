"""Text as people type it: what can be seen, and nothing that makes other text look otherwise."""

import unicodedata

# Unicode 15.1, PropList: characters that turn the direction of the text after them (Bidi_Control; the two
# marks LRM and RLM turn nothing and stay), and letters that show nothing.
_TURNING = frozenset(map(chr, (*range(0x202A, 0x202F), *range(0x2066, 0x206A))))
_BLANK = frozenset("\u115f\u1160\u17b4\u17b5\u2800\u3164\uffa0")
_LINES = frozenset("\t\n\r")
# Categories that show nothing by themselves. One not assigned may be a sign newer than our tables.
_UNSEEN = frozenset({"Cc", "Cf", "Cs", "Zs", "Zl", "Zp", "Mn", "Me"})


def is_plain(text: str) -> bool:
    """Whether text holds no control character beside line ends and tabs, and none that turns directions.

    >>> is_plain("Größe\\n7½"), is_plain("a\\x00"), is_plain("\\u202egnp.exe")
    (True, False, False)
    """
    return (text.isascii() and text.isprintable()) or not any(_odd(c) for c in text)


def plain(text: str) -> str:
    """Text without these characters.

    >>> plain("gar\\u2066den\\x00")
    'garden'
    """
    return text if is_plain(text) else "".join(c for c in text if not _odd(c))


def can_be_seen(text: str) -> bool:
    """Whether anything of a text can be seen.

    >>> can_be_seen("\\u200b \\u3164"), can_be_seen(" ½ "), can_be_seen("\\U0001faea")
    (False, True, True)
    """
    return any(unicodedata.category(c) not in _UNSEEN and c not in _BLANK for c in text)


def _odd(c: str) -> bool:
    return (unicodedata.category(c) in ("Cc", "Cs") and c not in _LINES) or c in _TURNING
