"""Where the files of probes lie."""

from pathlib import Path

import pytest


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    found = tmp_path / "blobs"
    found.mkdir()
    return found
