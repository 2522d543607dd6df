"""Bytes to text and back without losing one byte, because a page that was
never changed must leave exactly as it came.

The encoding is found as a browser finds it (HTML Standard,
"Determining the character encoding"); bytes that the encoding does not know
are carried through as lone surrogates and written back as they were.
"""

from __future__ import annotations

import codecs
from dataclasses import dataclass

import webencodings

from innerhop.core.refusals import Refusal
from innerhop.core.source import parser

# Encoding Standard, "BOM sniff": these three and no others.
_BYTE_ORDER_MARKS = (codecs.BOM_UTF8, codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE)
# https://encoding.spec.whatwg.org/#replacement
_REPLACEMENT = "replacement"
# C0 controls that a text file has no use for (tab, LF, FF, CR and ESC apart).
_LOOKED_AT = 65_536  # what is binary shows it early, and no page holds a NUL
_BINARY = bytes((*range(9), *range(14, 27), *range(28, 32)))


class NotText(Refusal):
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


def decode(data: bytes, said: str = "") -> tuple[str, FileEncoding]:
    """The text of a file and how it was written down. said: the encoding that its server names,
    which counts for more than what the file says, but not than its byte-order mark (HTML
    Standard, "encoding sniffing algorithm").

    Raises NotText when the file is not text, or when writing the text back
    would not give the same bytes.
    """
    mark = next((m for m in _BYTE_ORDER_MARKS if data.startswith(m)), b"")
    sent = webencodings.lookup(said) if said and not mark else None
    name = sent.name if sent else parser.sniffed_encoding(data)
    if name == _REPLACEMENT:
        raise NotText(
            "its character encoding is one that browsers refuse to read, because it is unsafe. "
            "Save it as UTF-8 and bring it in again"
        )
    found = webencodings.lookup(name)
    if found is None:
        raise NotText("its character encoding is not one that browsers know")
    # A file of plain ASCII that names no encoding is read as windows-1252, but its
    # server may say otherwise: nothing but ASCII is written into it.
    plain = data.isascii() and found.name == "windows-1252"
    encoding = FileEncoding(found.name, "ascii" if plain else found.codec_info.name, mark)
    try:
        text = decode_as(data, encoding)
        # UTF-8 comes back as it was, with what is none of it carried through (PEP 383); of
        # the others that has to be tried.
        lossless = encoding.codec == "utf-8" or encode(text, encoding) == data
    except UnicodeError:
        lossless = False
    if not lossless:
        raise NotText(
            f"it says it is {found.name}, but some of its bytes are not. "
            "Save it as UTF-8 and bring it in again"
        )
    if _is_binary(data, text, encoding.label):
        raise NotText("it holds bytes that no text has, so it is some other kind of file")
    return text, encoding


def _is_binary(data: bytes, text: str, label: str) -> bool:
    if label.startswith("utf-16"):  # where half of all bytes are like these
        data = text[:_LOOKED_AT].encode("utf-8", "surrogatepass")
    elif b"\0" in data:
        return True
    beginning = data[:_LOOKED_AT]
    return len(beginning.translate(None, _BINARY)) < len(beginning)


def decode_as(data: bytes, encoding: FileEncoding) -> str:
    """The text of a file that `decode` has taken before."""
    return data[len(encoding.mark) :].decode(encoding.codec, _keeping(encoding))


def encode(text: str, encoding: FileEncoding) -> bytes:
    """The file for `text`: the inverse of `decode`.

    Raises UnicodeEncodeError for characters the encoding does not have; the
    planners never write such characters.
    """
    return encoding.mark + text.encode(encoding.codec, _keeping(encoding))


def _keeping(encoding: FileEncoding) -> str:
    """The codec error handler that carries unknown units through unharmed."""
    return "surrogatepass" if encoding.label.startswith("utf-16") else "surrogateescape"
