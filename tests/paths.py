"""Where things lie."""

from __future__ import annotations

from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
DEMO = ROOT / "src/incudo/demo"
WEB = ROOT / "web"
#: Parts in the first format, as they were shipped once.
VERSION_1 = ROOT / "tests/core/parts/version1"
