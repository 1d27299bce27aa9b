"""What the interlock of one machine is told: start enabled or not, its lamp, stop or not.

It gates *starting* only. When permission ends or the link is lost, a running
cut is never stopped by it, since a spindle that is stopped in the cut breaks
cutters and throws work: it alarms, and no new start is enabled. Only "stop all",
an instructor's own act, stops spindles and feeds.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum


class Lamp(StrEnum):
    """What the lamp at the machine says."""

    DARK = "dark"
    READY = "ready"
    RUNNING = "running"
    ALARM = "alarm"
    STOPPED = "stopped"


@dataclass(frozen=True)
class Facts:
    """What the interlock of a machine follows from.

    ``started``: a student has been given a start here. ``still_may``: the
    decision for them, asked again at this moment. ``closed``: tagged out.
    """

    started: bool
    still_may: bool
    closed: bool
    stop_all: bool


@dataclass(frozen=True)
class Command:
    """What the device of one machine is told."""

    enable: bool
    lamp: Lamp
    stop: bool


def command(f: Facts) -> Command:
    """The command for one machine."""
    if f.stop_all:
        return Command(enable=False, lamp=Lamp.STOPPED, stop=True)
    if f.closed or (f.started and not f.still_may):
        return Command(enable=False, lamp=Lamp.ALARM, stop=False)
    if f.started:
        return Command(enable=True, lamp=Lamp.RUNNING, stop=False)
    return Command(enable=False, lamp=Lamp.DARK, stop=False)


@dataclass(frozen=True)
class Motion:
    """A machine as its interlock device sees it."""

    spindle: bool = False
    feed: bool = False


def follow(motion: Motion, told: Command | None) -> tuple[Motion, Command]:
    """What the device does with a command; ``None`` means that the link is lost.

    With the link lost what turns goes on turning, the lamp alarms and nothing
    can be started.
    """
    if told is None:
        return motion, Command(enable=False, lamp=Lamp.ALARM, stop=False)
    if told.stop:
        return Motion(), told
    return motion, told


def press_start(motion: Motion, told: Command) -> Motion:
    """Somebody presses the machine's own start: it turns only while the start is enabled."""
    return Motion(spindle=True, feed=motion.feed) if told.enable else motion
