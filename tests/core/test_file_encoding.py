"""Files of every sort go to text and back without losing a byte."""

import pytest
import turbohtml
from hypothesis import given
from hypothesis import strategies as st

from innerhop.core.source import file_encoding, parser

# Names and bytes from the Encoding Standard: #names-and-labels, #bom-sniff.
FILES = {
    "utf-8": ("utf-8", "é".encode()),
    "utf-8 with a mark": ("utf-8", b"\xef\xbb\xbf" + "é".encode()),
    "utf-16le with a mark": ("utf-16le", b"\xff\xfe" + "é".encode("utf-16-le")),
    "utf-16be with a mark": ("utf-16be", b"\xfe\xff" + "é".encode("utf-16-be")),
    "windows-1252, unlabelled": ("windows-1252", b"caf\xe9"),
    "latin-1 label": ("windows-1252", b"<meta charset=iso-8859-1>caf\xe9"),
    "a byte cp1252 lacks": ("windows-1252", b"<meta charset=windows-1252>\x81\x8d"),
    "shift_jis": ("shift_jis", b"<meta charset=shift_jis>\x82\xa0"),
    "broken utf-8": ("utf-8", b"<meta charset=utf-8>a\xffb\xc3"),
    "lone surrogate in utf-16": ("utf-16le", b"\xff\xfea\x00\x00\xd8"),
    "plain ascii, cr, lf and both": ("windows-1252", b"a\rb\nc\r\nd"),
}


@pytest.mark.parametrize("name", FILES)
def test_every_encoding_is_found_and_written_back(name: str) -> None:
    label, data = FILES[name]
    text, encoding = file_encoding.decode(data)
    assert encoding.label == label
    assert file_encoding.encode(text, encoding) == data


def test_an_undeclared_ascii_file_gets_nothing_but_ascii() -> None:
    _, encoding = file_encoding.decode(b"<h2>x</h2>")
    assert not encoding.can_write("é")


@given(st.binary(max_size=60))
def test_bytes_come_back_or_are_refused(data: bytes) -> None:
    try:
        text, encoding = file_encoding.decode(data)
    except file_encoding.NotText as problem:
        assert str(problem)
    else:
        assert file_encoding.encode(text, encoding) == data


@pytest.mark.parametrize(
    "data", [b"\x89PNG\r\n\x1a\n\x00\x00\x00\rIHDR", b"PK\x03\x04\x14\x00", b"\xff\xfea\x00b"]
)
def test_what_is_no_text_is_refused_in_words(data: bytes) -> None:
    with pytest.raises(file_encoding.NotText, match=r"kind of file|Save it as UTF-8"):
        file_encoding.decode(data)


@pytest.mark.parametrize("label", ["hz-gb-2312", "iso-2022-kr", "replacement"])
def test_encodings_that_browsers_refuse(label: str) -> None:
    """Encoding Standard, "replacement"."""
    with pytest.raises(file_encoding.NotText, match="browsers refuse to read"):
        file_encoding.decode(f"<meta charset={label}><p>x".encode())


@given(
    st.sampled_from(["", "<meta charset=utf-8>", "<META CHARSET='iso-8859-2' >",
                     "<!-- <meta charset=koi8-r> -->", "<?xml encoding='utf-8'?>",
                     "<meta http-equiv=content-type content='text/html; charset=shift_jis'>"]),
    st.sampled_from([0, 900, 1_020, 3_000]),
    st.binary(max_size=20),
)  # fmt: skip
def test_the_quick_way_finds_what_the_whole_parse_finds(meta: str, at: int, more: bytes) -> None:
    """HTML Standard, "determining the character encoding", as the parser carries it out."""
    data = b" " * at + meta.encode() + b"<p>x" + more
    found = turbohtml.parse(data, positions=False).encoding
    assert parser.sniffed_encoding(data) == (found or "").lower()
