"""The Skerry Sound shop, made by the same use cases that people use.

Everybody and everything in it is invented. Given the same moment it makes the
same shop; histories reach back about a year from that moment.
"""

from __future__ import annotations

import gc
import uuid
from collections.abc import Callable, Iterator
from datetime import datetime, timedelta
from functools import partial

from incudo.app.jobcards import checking as checks
from incudo.app.jobcards import progress
from incudo.app.kernel.unit import Unit, Who
from incudo.app.parts import assigning, readings
from incudo.app.people import accommodations, notices
from incudo.app.session import ending, roll, sessions, views
from incudo.app.shop import tags
from incudo.app.skills import signing
from incudo.core.parts.inspection import Disposition
from incudo.core.parts.stations import TICKED
from incudo.core.people.notice import VERSION
from incudo.demo import people as cast
from incudo.demo.opening import open_shop
from incudo.demo.planning import timed
from incudo.demo.setting import setting_events
from incudo.demo.signing import sign_with_all
from incudo.demo.story import Story, key, who
from incudo.demo.today import open_today

__all__ = ["key", "load", "who"]

#: When something happens (days and minutes before the moment of loading), and what.
Event = tuple[float, float, Callable[[], object]]
#: A group meets every week; only one meeting in four is told.
_EVERY = 28


def load(
    unit: Unit,
    base: datetime,
    say: Callable[[str], None] = lambda _: None,
    device_key: str = "",
    zone: str = "UTC",
) -> None:
    """Fill an empty database with the shop. ``device_key`` lets the interlock stand-in talk to it.

    ``zone`` is the shop's time zone by its IANA name.
    """
    # what is imported by now stays: the collector need not look at it again and again
    gc.freeze()
    try:
        _tell(Story(unit, base, zone), say, device_key)
    finally:
        gc.unfreeze()


def _tell(story: Story, say: Callable[[str], None], device_key: str) -> None:
    say("the shop, its people, machines and instruments")
    open_shop(story, device_key)
    boss = who("haldane")
    _notices(story)
    for login, words in cast.AGREED.items():
        agreed = accommodations.AccommodationCommand(words=words)
        student = key("person", login)
        story.run(lambda w, s=student, a=agreed: accommodations.change_accommodation(w, boss, s, a))  # type: ignore[misc]
    say("a year of meetings, sign-offs, parts and readings")
    events = [
        *_meetings(story),
        *_signed(story),
        *_parts(story),
        *_withdrawals(story),
        *_happened(story),
        *setting_events(story),
    ]
    for n, (days, minutes, happen) in enumerate(sorted(events, key=lambda e: e[0] + e[1] / 1440, reverse=True), 1):
        story.at(days, minutes)
        happen()
        if n % max(1, len(events) // 5) == 0:
            say(f"  {100 * n // len(events)} % of the year")
    timed(story)
    say("this evening's session")
    open_today(story)


def _keyed(names: tuple[str, ...]) -> list[str]:
    """Machines by their ids: "skill@petrel" → "skill@<id>"."""
    parts = (name.partition("@") for name in names)
    return [f"{skill}@{key('machine', machine)}" if machine else skill for skill, _, machine in parts]


def _notices(story: Story) -> None:
    """Everybody has signed the safety notice, but for the two who have not begun."""
    for login in cast.PEOPLE:
        if login in cast.NOT_BEGUN:
            continue
        command = notices.NoticeCommand(id=key("notice", login), version=VERSION)
        person = who(login)
        story.run(lambda w, c=command, x=person: notices.sign_notice(w, x, c))  # type: ignore[misc]


def _meetings(story: Story) -> Iterator[Event]:
    """Meetings four weeks apart, so that who was here is known."""
    for days in range(392, 2, -_EVERY):
        for group, offset in (("Tuesday group", 0.0), ("Thursday group", 1.0)):
            yield days - offset, 0, partial(_meeting, story, days, group)


def _meeting(story: Story, days: float, group: str) -> None:
    boss, meeting = who("selby"), key("meeting", group, days)
    opened = sessions.OpenSession(
        id=meeting,
        group=key("group", group),
        machines=tuple(key("machine", m) for m, _, _ in cast.MACHINES),
        pin="0000",
    )
    story.run(lambda w: sessions.begin(w, boss, opened))
    marks = tuple(
        roll.RollMark(student=key("person", login), presence=_presence(login, days))
        for login, p in cast.PEOPLE.items()
        if p.group == group
    )
    called = roll.RollCommand(id=key("roll", meeting), marks=marks)
    story.run(lambda w: roll.keep_roll(w, boss, called))
    story.now += timedelta(hours=3)
    end = ending.EndSession(id=meeting, pin="0000")
    story.run(lambda w: ending.close(w, boss, end))


def _presence(login: str, days: float) -> views.Presence:
    gone = days < cast.AWAY.get(login, 0) or login in cast.NOT_BEGUN
    return views.Presence.ABSENT if gone else views.Presence.HERE


def _signed(story: Story) -> Iterator[Event]:
    for days, signs in cast.SIGNED.items():
        for n, (student, names) in enumerate(signs.items()):
            stumbled = {bank: n for (s, bank), n in cast.STUMBLED.items() if s == student}
            args = (story, who("haldane"), who(student), _keyed(names), "shown at the machine", stumbled)
            yield days, -n, partial(sign_with_all, *args)


def _withdrawals(story: Story) -> Iterator[Event]:
    for x in cast.WITHDRAWN:
        command = signing.WithdrawCommand(
            id=key("withdrawn", x.student, x.skill),
            student=key("person", x.student),
            skill=x.skill,
            machine=key("machine", x.machine) if x.machine else None,
            reason=x.reason,
            place=x.place,
            witness=x.witness,
            done=x.done,
            pin="0000",
        )
        yield x.days, 0, partial(story.run, partial(signing.withdraw_skill, who=who("haldane"), command=command))


def _happened(story: Story) -> Iterator[Event]:
    for n, x in enumerate(cast.HAPPENED):
        command = tags.IncidentCommand(
            id=key("happened", n),
            kind=tags.IncidentKind.NEAR_MISS,
            what=x.what,
            machine=key("machine", x.machine),
            done=x.done,
            with_name=bool(x.by),
        )
        yield x.days, 0, partial(story.run, partial(tags.report_incident, who=who(x.by or "orla"), command=command))


def _parts(story: Story) -> Iterator[Event]:
    """Each assignment with as much of its life as the cast says."""
    for n, part in enumerate(cast.PARTS):
        assignment = key("assignment", n)
        attempt = uuid.uuid5(assignment, "first attempt")
        yield part.days, 0, partial(_assign, story, assignment, part)
        for r, round_ in enumerate(part.rounds):
            happen = partial(_round, story, (n, r), part, who(part.student), attempt, round_)
            yield round_.days, round_.minutes + 55, happen
            if round_.decision and round_.decision.scraps:
                attempt = uuid.uuid5(key("decision", n, r), "next attempt")


def _assign(story: Story, assignment: uuid.UUID, part: cast.Part) -> None:
    command = assigning.AssignCommand(
        id=assignment,
        version=key("version", part.project),
        student=key("person", part.student),
        machine=key("machine", part.machine) if part.machine else None,
        due=(story.base + timedelta(days=part.due)).date() if part.due else None,
        not_before_signed=part.not_before_signed,
    )
    if command.due and command.due < story.now.date():
        command = command.model_copy(update={"due": None})
    story.run(lambda w: assigning.assign(w, who("haldane"), command))


def _round(
    story: Story, where: tuple[int, int], part: cast.Part, student: Who, attempt: uuid.UUID, r: cast.Round
) -> None:
    for i, station in enumerate(TICKED[: r.ticks]):
        tick = progress.TickCommand(id=key("tick", where, i), station=station, at=story.now)
        story.run(lambda w, c=tick: progress.keep_tick(w, student, attempt, c))  # type: ignore[misc]
        story.now += timedelta(minutes=8)
    for i, (number, value, tool) in enumerate(r.readings):
        command = _reading(key("reading", where, i), number, value, tool, story.now)
        story.run(lambda w, c=command: readings.save_reading(w, student, attempt, c))  # type: ignore[misc]
        story.now += timedelta(minutes=1)
    if not r.handed_in:
        return
    hand = key("hand-in", where)
    given = progress.HandInCommand(id=hand, at=story.now)
    story.run(lambda w: progress.keep_hand_in(w, student, attempt, given))
    d = r.decision
    if d is None:
        return
    story.now += timedelta(minutes=25)
    boss = who(d.by)
    for i, (number, value, tool) in enumerate(d.checks):
        command = _reading(key("check", where, i), number, value, tool, story.now)
        story.run(lambda w, c=command: readings.save_check_reading(w, boss, attempt, c))  # type: ignore[misc]
    opened = checks.OpenCommand(id=key("opened", where))
    story.run(lambda w: checks.keep_comparison(w, boss, hand, opened))
    kinds = tuple(
        checks.DispositionCommand(characteristic=c, kind=Disposition(kind), reason=why)
        for c, kind, why in d.dispositions
    )
    decide = checks.DecideCommand(
        id=key("decision", *where), dispositions=kinds, remark=d.remark, count_reworked=d.count_reworked
    )
    story.run(lambda w: checks.keep_decision(w, boss, hand, decide))
    if d.signs:
        story.now += timedelta(minutes=2)
        sign_with_all(story, who(d.by), who(part.student), d.signs, "inspected part")


def _reading(reading: uuid.UUID, number: int, value: str, tool: str, at: datetime) -> readings.ReadingCommand:
    text, _, unit = value.partition(" ")
    return readings.ReadingCommand(
        id=reading,
        characteristic=number,
        value=text,
        unit=unit or "in",
        instrument=key("instrument", tool),
        measured_at=at,
    )
