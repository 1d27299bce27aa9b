"""The word for a machine: what must be seen first wins."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from incudo.core.session.plate import PlateState, plate_state

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
