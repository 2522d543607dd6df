"""Bytes to text and back without losing one byte, because a page that was
never changed must leave exactly as it came.

The encoding is found as a browser finds it (HTML Standard 13.2.3.2,
"Determining the character encoding"); bytes that the encoding does not know
are carried through as lone surrogates and written back as they were.
"""

from __future__ import annotations

import codecs
import re
from dataclasses import dataclass

import webencodings

from innerhop.core.source import tree

# Encoding Standard, "BOM sniff": these three and no others.
_BYTE_ORDER_MARKS = (codecs.BOM_UTF8, codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE)
# C0 controls that a text file has no use for (tab, LF, FF, CR and ESC apart).
_BINARY = re.compile("[\x00-\x08\x0e-\x1a\x1c-\x1f]")


class NotText(ValueError):
    """The bytes are not a text that can be kept without loss; says why."""


@dataclass(frozen=True, slots=True)
class FileEncoding:
    """How a page's characters were written down.

    label: the Encoding Standard's name ("utf-8", "windows-1252", …).
    codec: the Python codec that does it.
    mark: the byte-order mark at the start of the file, often empty.
    """

    label: str = "utf-8"
    codec: str = "utf-8"
    mark: bytes = b""

    def can_write(self, text: str) -> bool:
        """Whether every character of `text` exists in this encoding."""
        try:
            text.encode(self.codec)
        except UnicodeEncodeError:
            return False
        return True


def decode(data: bytes) -> tuple[str, FileEncoding]:
    """The text of a file and how it was written down.

    Raises NotText when the file is not text, or when writing the text back
    would not give the same bytes.
    """
    mark = next((m for m in _BYTE_ORDER_MARKS if data.startswith(m)), b"")
    found = webencodings.lookup(tree.sniff_encoding(data))
    if found is None:
        raise NotText("its character encoding is not one that browsers know")
    # A file of plain ASCII that names no encoding is read as windows-1252, but its
    # server may say otherwise: nothing but ASCII is written into it.
    plain = data.isascii() and found.name == "windows-1252"
    encoding = FileEncoding(found.name, "ascii" if plain else found.codec_info.name, mark)
    try:
        text = decode_as(data, encoding)
        lossless = encode(text, encoding) == data
    except UnicodeError:
        lossless = False
    if not lossless:
        raise NotText(
            f"it says it is {found.name}, but some of its bytes are not. "
            "Save it as UTF-8 and bring it in again"
        )
    if _BINARY.search(text):
        raise NotText("it holds bytes that no text has, so it is some other kind of file")
    return text, encoding


def decode_as(data: bytes, encoding: FileEncoding) -> str:
    """The text of a file that `decode` has taken before."""
    return data[len(encoding.mark) :].decode(encoding.codec, _keeping(encoding))


def encode(text: str, encoding: FileEncoding) -> bytes:
    """The file for `text`: the inverse of `decode`.

    Raises UnicodeEncodeError for characters the encoding does not have; the
    planners in `marking` and `hopping` never write such characters.
    """
    return encoding.mark + text.encode(encoding.codec, _keeping(encoding))


def _keeping(encoding: FileEncoding) -> str:
    """The codec error handler that carries unknown units through unharmed."""
    return "surrogatepass" if encoding.label.startswith("utf-16") else "surrogateescape"
