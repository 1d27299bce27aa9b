"""Writes the approved pages anew: ``python -m tests.approved [name …]``."""

from __future__ import annotations

import sys
import time
from pathlib import Path

from tests.approved.acts import acts
from tests.approved.answers import answers
from tests.approved.pages import PAGES

FOLDER = Path(__file__).parent


def main() -> None:
    """Write the pages that are named, or all."""
    pages = PAGES | {"answers": answers, "acts": acts}
    for name in sys.argv[1:] or pages:
        began = time.perf_counter()
        text = "\n".join(pages[name]()) + "\n"
        path = FOLDER / f"{name}.txt"
        same = path.exists() and path.read_text(encoding="utf-8") == text
        path.write_text(text, encoding="utf-8")
        print(f"{name}: {len(text) // 1000} kB, {time.perf_counter() - began:.1f} s, {'the same' if same else 'new'}")


if __name__ == "__main__":
    main()
