"""Built files as they are prepared to be sent: beside a server that runs already."""

from __future__ import annotations

import gzip
from pathlib import Path

from innerhop.project.compressed import compress


def test_a_second_server_leaves_what_the_first_is_sending(tmp_path: Path) -> None:
    folder = tmp_path / "static" / "dist"
    folder.mkdir(parents=True)
    (folder / "app.js").write_text("let a = 1;\n" * 100)
    compress(tmp_path)
    made = folder / "app.js.gz"
    assert gzip.decompress(made.read_bytes()) == (folder / "app.js").read_bytes()
    first = made.stat()
    compress(tmp_path)
    assert (made.stat().st_ino, made.stat().st_mtime_ns) == (first.st_ino, first.st_mtime_ns)
    with made.open("rb") as sending:
        (folder / "app.js").write_text("let b = 2;\n" * 100)
        compress(tmp_path)
        assert gzip.decompress(sending.read()).startswith(b"let a")
    assert gzip.decompress(made.read_bytes()).startswith(b"let b")
    assert sorted(one.name for one in tmp_path.iterdir()) == ["static"]
