"""Beside each built file a compressed one, which WhiteNoise sends to who takes it."""

from __future__ import annotations

import os
import tempfile
from pathlib import Path

from whitenoise.compress import Compressor


class _Whole(Compressor):  # type: ignore[misc]
    """Puts a compressed file in its place when it is whole, and only where it is another one:
    a server that runs already may be sending the one that is there."""

    def __init__(self, root: Path) -> None:
        super().__init__(quiet=True, use_brotli=False)
        self.root = root

    def write_data(self, path: str, data: bytes, suffix: str, _stat: os.stat_result) -> str:
        """Its name."""
        file = Path(f"{path}{suffix}")
        if not file.exists() or file.read_bytes() != data:
            handle, beside = tempfile.mkstemp(dir=self.root)  # where no server looks for files
            with os.fdopen(handle, "wb") as new:
                new.write(data)
            os.chmod(beside, 0o644)
            os.replace(beside, file)
        return str(file)


def compress(root: Path) -> None:
    """Make those of the folder `static/dist` in root."""
    compressor = _Whole(root)
    for file in (root / "static" / "dist").rglob("*"):
        if file.is_file() and compressor.should_compress(file.name):
            list(compressor.compress(str(file)))
