"""The word for a machine: what must be seen first wins."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from incudo.core.session.plate import PlateState, alarms, plate_state

FACTS = ("tagged_out", "alarm", "spindle", "started", "people", "open_")


@given(st.fixed_dictionaries({f: st.booleans() for f in FACTS}))
def test_the_first_fact_that_holds_gives_the_word(facts: dict[str, bool]) -> None:
    first = next((f for f in FACTS if facts[f]), "")
    wanted = {
        "tagged_out": PlateState.CLOSED,
        "alarm": PlateState.ALARM,
        "spindle": PlateState.RUNS,
        "started": PlateState.MAY_START,
        "people": PlateState.IN_USE,
        "open_": PlateState.FREE,
        "": PlateState.NOT_OPEN,
    }
    assert plate_state(**facts) is wanted[first]


@pytest.mark.parametrize(
    ("still_may", "spindle", "tagged_out", "wanted"),
    [
        (None, False, False, False),
        (None, True, False, True),
        (True, True, False, False),
        (True, False, False, False),
        (True, True, True, True),
        (True, False, True, False),
        (False, False, False, True),
        (False, True, False, True),
    ],
)
def test_what_turns_without_permission_alarms(
    still_may: bool | None, spindle: bool, tagged_out: bool, wanted: bool
) -> None:
    assert alarms(still_may=still_may, spindle=spindle, tagged_out=tagged_out) is wanted
