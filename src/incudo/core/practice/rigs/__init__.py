"""Practice rigs: small, honest simulations of setting up. Seeded, replayable, scored, pure.

A rig is one module here that offers a ``Rig``; its run is a list of actions from a seed,
and everything about it follows from playing them again. Lengths inside are float
millimetres: this is physics. What is shown is rounded as an indicator is read.
"""

from typing import Any

from incudo.core.practice.rigs.base import Rig
from incudo.core.practice.rigs.bore import BoreRig, BoreScene
from incudo.core.practice.rigs.cut.trace import TraceRig, TraceScene
from incudo.core.practice.rigs.edge.rig import EdgeRig
from incudo.core.practice.rigs.edge.scene import EdgeScene
from incudo.core.practice.rigs.handle import HandleRig, HandleScene
from incudo.core.practice.rigs.head.rig import HeadRig
from incudo.core.practice.rigs.head.scene import HeadScene
from incudo.core.practice.rigs.hold.rig import HoldRig
from incudo.core.practice.rigs.hold.scene import HoldScene
from incudo.core.practice.rigs.plan.drawing import DrawingRig, DrawingScene
from incudo.core.practice.rigs.plan.planning import PlanningRig, PlanningScene
from incudo.core.practice.rigs.reading import ReadingRig, ReadingScene
from incudo.core.practice.rigs.vise.rig import ViseRig
from incudo.core.practice.rigs.vise.scene import ViseScene
from incudo.core.practice.rigs.way import WayRig, WayScene

__all__ = ["RIGS", "Scene"]

#: Every rig, in the order of work.
RIGS: dict[str, Rig[Any]] = {
    r.id: r
    for r in (
        HeadRig(),
        ViseRig(),
        HoldRig(),
        ReadingRig(),
        DrawingRig(),
        PlanningRig(),
        WayRig(),
        HandleRig(),
        EdgeRig(),
        BoreRig(),
        TraceRig(),
    )
}
Scene = (
    HeadScene
    | ViseScene
    | HoldScene
    | HandleScene
    | EdgeScene
    | BoreScene
    | WayScene
    | ReadingScene
    | DrawingScene
    | PlanningScene
    | TraceScene
)
