"""The gauges of Skerry Sound."""

from __future__ import annotations

import uuid
from collections.abc import Callable, Iterator
from datetime import datetime, timedelta

from incudo import shipped
from incudo.app.shop.new_gauges import GaugeCommand
from incudo.core.measuring.kinds import GaugeEntry

#: key, name, kind, unit, least, most, resolution, U, days until due
INSTRUMENTS = (
    ("cal", "Caliper no. 1", "caliper", "in", "0", "6", "0.0005", "0.0015", 140),
    ("cal2", "Caliper no. 2", "caliper", "in", "0", "6", "0.0005", "0.0015", -12),
    ("m01", "Micrometer 0–1 in no. 3", "micrometer", "in", "0", "1.01", "0.0001", "0.0002", 90),
    ("m12", "Micrometer 1–2 in no. 4", "micrometer", "in", "0.99", "2.01", "0.0001", "0.0002", 90),
    ("m23", "Micrometer 2–3 in no. 5", "micrometer", "in", "1.99", "3.01", "0.0001", "0.0003", 60),
    ("dep", "Depth micrometer no. 6", "depth micrometer", "in", "0", "4", "0.001", "0.0005", 75),
    ("ind", "Test indicator no. 7", "indicator", "in", "0", "0.03", "0.0001", "0.0002", 200),
    ("mcal", "Caliper, metric no. 8", "caliper", "mm", "0", "150", "0.01", "0.04", 140),
    ("m25", "Micrometer 0–25 mm no. 9", "micrometer", "mm", "0", "25", "0.001", "0.004", 90),
    ("m50", "Micrometer 25–50 mm no. 10", "micrometer", "mm", "25", "50", "0.001", "0.004", 90),
    ("bevel", "Bevel protractor no. 11", "protractor", "deg", "0", "180", "0.05", "0.1", 120),
    ("spec", "Finish specimens no. 12", "finish specimens", "mm", "0", "1", "0.001", "0", 300),
)
#: key, name, thread, days until due: go and no-go gauges
THREAD_GAUGES = (
    ("plug38", "Thread gauge 3/8-16 no. 13", "3/8-16", 150),
    ("plug8", "Thread gauge M8 no. 14", "M8", 150),
)


def gauges(base: datetime, key: Callable[..., uuid.UUID]) -> Iterator[GaugeCommand]:
    """All of them as they are entered, their checks due so many days after ``base``."""

    def entered(k: str, name: str, entry: GaugeEntry, due: int, thread: str = "") -> GaugeCommand:
        day = (base + timedelta(days=due)).date()
        return GaugeCommand(id=key("instrument", k), name=name, entry=entry, thread=thread, due=day)

    for k, name, kind, unit, least, most, resolution, u, due in INSTRUMENTS:
        values = {"least": least, "most": most, "resolution": resolution, "uncertainty": u}
        yield entered(k, name, GaugeEntry.model_validate({"kind": kind, "unit": unit, **values}), due)
    like = next(x for x in shipped.gauge_kinds() if x.threads)
    for k, name, thread, due in THREAD_GAUGES:
        yield entered(k, name, GaugeEntry(**like.model_dump(exclude={"id", "name"})), due, thread)
