"""What a feature may be called: short words without a dot, because `slot.floor` names a face of `slot`."""

from __future__ import annotations

from typing import Annotated

from pydantic import StringConstraints

FeatureName = Annotated[
    str, StringConstraints(min_length=1, max_length=40, strip_whitespace=True, pattern=r"^[^.\x00-\x1f]+$")
]
