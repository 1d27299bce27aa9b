"""Who and what is in Skerry Sound, and what happened there. All invented."""

from __future__ import annotations

from dataclasses import dataclass

PASSWORD = "tideway-lantern"
#: What the demo's wall shows; as invented as everything else here.
WALL_KEY = "skerrysoundwall"
PROJECTS = ("tide-block", "keel-step-gauge", "fairlead-plate", "shackle-pin")


@dataclass(frozen=True)
class Character:
    """Someone of the shop."""

    name: str
    role: str = "student"
    group: str = ""
    pin: str | None = None
    delegated: tuple[str, ...] = ()


def _group(name: str, *students: tuple[str, str]) -> dict[str, Character]:
    return {login: Character(full, group=name) for login, full in students}


PEOPLE: dict[str, Character] = {
    "haldane": Character("Mara Haldane", "instructor", pin="1407"),
    "selby": Character("Corin Selby", "instructor", pin="2203"),
    "dacosta": Character(
        "Wren Dacosta",
        "assistant",
        pin="3309",
        delegated=("measure-caliper", "machine-familiarisation"),
    ),
    "thorley": Character("Agnes Thorley", "auditor"),
    **_group(
        "Tuesday group",
        ("orla", "Orla Finnis"),
        ("tavish", "Tavish Roe"),
        ("ines", "Ines Calder"),
        ("bryn", "Bryn Okafor"),
        ("kaia", "Kaia Lund"),
        ("senna", "Senna Vik"),
        ("ruari", "Ruari Stead"),
        ("edda", "Edda Morwen"),
        ("piet", "Piet Halloran"),
        ("juno", "Juno Abara"),
    ),
    **_group(
        "Thursday group",
        ("mirek", "Mirek Tolland"),
        ("sanna", "Sanna Quill"),
        ("dov", "Dov Ferrant"),
        ("lio", "Lio Vantree"),
        ("freya", "Freya Oakes"),
        ("tam", "Tam Wexcombe"),
        ("nell", "Nell Ashgrove"),
        ("ivo", "Ivo Skarn"),
    ),
}

MACHINES = (
    ("petrel", "Petrel", "knee mill, inch dials, step pulleys, no readout, worn screws"),
    ("fulmar", "Fulmar", "knee mill, inch dials, variable speed, two-axis readout"),
    ("gannet", "Gannet", "knee mill, metric dials, gear head, three-axis readout"),
    ("dunlin", "Dunlin", "small metric bench mill, head tilts to the side only"),
)
#: Which shipped kind each of them was entered like.
LIKE = {"petrel": "knee-inch", "fulmar": "knee-inch-stepless", "gannet": "knee-metric", "dunlin": "bench-metric"}


#: What somebody is signed for before their first part; all that it rests on is signed with it.
_START = (
    "general-safety",
    "measure-caliper",
    "change-cutter",
    "holders",
    "parallels",
    "speed-feed",
    "locks-stops-feed",
    "dials",
)
_EARLY = (*_START, "emergency-stop")


def _on(*machines: str) -> tuple[str, ...]:
    return tuple(f"machine-familiarisation@{m}" for m in machines)


#: Days ago → student → skills signed that day by seeing them done ("skill" or "skill@machine").
SIGNED: dict[float, dict[str, tuple[str, ...]]] = {
    391: {"ruari": (*_EARLY, *_on("petrel"))},
    345: {"lio": (*_EARLY, *_on("petrel"))},
    210: {s: _EARLY for s in ("orla", "tavish", "ines", "bryn", "kaia", "juno")},
    209: {s: _EARLY for s in ("mirek", "sanna", "freya", "tam", "ivo")},
    200: {"ivo": _on("petrel")},
    150: {
        "orla": _on("petrel", "fulmar"),
        "tavish": _on("petrel", "fulmar", "gannet"),
        "ines": _on("fulmar", "petrel"),
        "bryn": _on("gannet", "dunlin"),
        "kaia": _on("dunlin", "petrel"),
        "juno": _on("petrel"),
        "mirek": _on("petrel", "dunlin"),
        "sanna": _on("fulmar"),
        "freya": _on("gannet"),
    },
    95: {s: ("edge-finding",) for s in ("tavish", "bryn")},
    60: {"senna": (*_EARLY, *_on("dunlin")), "dov": (*_EARLY, *_on("gannet"))},
    44: {"tavish": ("drilling", "side-milling", "square-head", "align-vise", "readout", "centre-block")},
    25: {s: ("edge-finding",) for s in ("orla", "ines", "juno", "freya", "sanna")},
    20: {"kaia": ("facing",), "lio": _on("fulmar"), "tam": _on("petrel"), "nell": _EARLY},
    9: {"edda": ("general-safety",), "nell": _on("dunlin")},
}

#: Who failed which knowledge check first, before passing it.
STUMBLED = {
    ("kaia", "at-the-machine"): 2,
    ("mirek", "holding"): 1,
    ("tam", "surroundings-person"): 1,
    ("tam", "the-machine"): 2,
    ("bryn", "at-the-machine"): 1,
    ("senna", "measuring"): 1,
    ("dov", "the-machine"): 1,
    ("edda", "afterwards"): 1,
}

#: What was agreed with whom, so that they can work as everybody else.
AGREED = {"kaia": "Reads lips: face Kaia when you speak, with the spindle stopped. Kaia waves instead of calling out."}

#: Who is on the class list and has never been here.
NOT_BEGUN = ("piet",)

#: Who stayed away from so many days ago on, and so was on no roll since.
AWAY = {"ivo": 180.0, "ruari": 340.0}

Value = tuple[int, str, str]

_BLOCK: tuple[Value, ...] = (
    (1, "2.4985", "cal"),
    (2, "1.5004", "m12"),
    (2, "1.5001", "m12"),
    (3, "0.9982", "m01"),
    (3, "0.9981", "m01"),
    (4, "0.0008", "ind"),
    (5, "0.0010", "ind"),
)
_BLOCK_CHECK: tuple[Value, ...] = ((3, "0.9981", "m01"), (4, "0.0009", "ind"))
_GAUGE: tuple[Value, ...] = (
    (1, "1.0008", "m01"),
    (2, "0.6994", "m01"),
    (2, "0.6996", "m01"),
    (3, "0.3735", "m01"),
    (3, "0.3736", "m01"),
    (4, "0.0009", "ind"),
    (5, "1.101", "dep"),
    (6, "2.1992", "m23"),
    (7, "0.9010", "cal"),
)
_GAUGE_CHECK: tuple[Value, ...] = ((4, "0.0010", "ind"), (3, "0.3736", "m01"))


def _but(values: tuple[Value, ...], *changes: Value) -> tuple[Value, ...]:
    """The same readings, those of the changed characteristics put in their place."""
    changed = {c[0] for c in changes}
    return tuple(sorted([*(v for v in values if v[0] not in changed), *changes]))


@dataclass(frozen=True)
class Decided:
    """What an instructor measured, decided, and signed."""

    by: str
    checks: tuple[Value, ...]
    remark: str = ""
    dispositions: tuple[tuple[int, str, str], ...] = ()
    signs: tuple[str, ...] = ()
    count_reworked: bool = False

    @property
    def scraps(self) -> bool:
        return any(kind == "scrap" for _, kind, _ in self.dispositions)


@dataclass(frozen=True)
class Round:
    """One go at measuring and handing in; times count back from the moment of loading."""

    days: float
    minutes: float = 0
    ticks: int = 4
    readings: tuple[Value, ...] = ()
    handed_in: bool = True
    decision: Decided | None = None


@dataclass(frozen=True)
class Part:
    """An assignment and its life."""

    student: str
    project: str
    days: float
    machine: str = ""
    due: int = 0
    not_before_signed: bool = False
    rounds: tuple[Round, ...] = ()


_BOTH = ("measure-micrometer", "square-block")


def _block(student: str, days: float, machine: str, by: str = "haldane", remark: str = "") -> Part:
    decided = Decided(by, _BLOCK_CHECK, remark or "Clean work, edges broken all round.", signs=_BOTH)
    return Part(
        student,
        "tide-block",
        days + 7,
        machine,
        rounds=(Round(days, readings=_BLOCK, decision=decided),),
    )


def _gauge(student: str, days: float, machine: str) -> Part:
    decided = Decided("haldane", _GAUGE_CHECK, "Shoulders crisp. Good.", signs=("mill-steps",))
    return Part(
        student,
        "keel-step-gauge",
        days + 10,
        machine,
        rounds=(Round(days, readings=_GAUGE, decision=decided),),
    )


PARTS: tuple[Part, ...] = (
    Part(
        "ruari",
        "tide-block",
        360,
        "petrel",
        rounds=(Round(352, readings=_BLOCK, decision=Decided("selby", _BLOCK_CHECK, signs=_BOTH)),),
    ),
    *(
        _block(s, d, m)
        for s, d, m in (
            ("orla", 120, "petrel"),
            ("tavish", 122, "petrel"),
            ("ines", 118, "fulmar"),
            ("bryn", 119, "dunlin"),
            ("juno", 110, "petrel"),
            ("freya", 96, "gannet"),
        )
    ),
    *(_gauge(s, d, m) for s, d, m in (("tavish", 80, "fulmar"), ("bryn", 75, "gannet"))),
    Part(
        "kaia",
        "tide-block",
        30,
        "dunlin",
        rounds=(Round(7, readings=_BLOCK, decision=Decided("selby", _BLOCK_CHECK, "Good block, Kaia.")),),
    ),
    Part(
        "mirek",
        "tide-block",
        70,
        "petrel",
        rounds=(
            Round(
                60,
                readings=_but(_BLOCK, (3, "0.9948", "m01"), (3, "0.9949", "m01")),
                decision=Decided(
                    "haldane",
                    ((3, "0.9949", "m01"), (5, "0.0011", "ind")),
                    "The knee was not locked and crept up. Measure before the last pass.",
                    ((3, "scrap", "0.001 under the bottom limit, no metal left"),),
                ),
            ),
            Round(50, readings=_BLOCK, decision=Decided("haldane", _BLOCK_CHECK, "That is it.", signs=_BOTH)),
        ),
    ),
    Part(
        "sanna",
        "tide-block",
        66,
        "fulmar",
        rounds=(
            Round(
                58,
                readings=_but(_BLOCK, (1, "2.4920", "cal")),
                decision=Decided(
                    "selby",
                    ((3, "0.9982", "m01"), (1, "2.4925", "cal")),
                    "Short, but it will serve. Stop against both ends next time.",
                    ((1, "accept", "the tide mark does not reach the ends"),),
                    signs=_BOTH,
                ),
            ),
        ),
    ),
    Part(
        "orla",
        "keel-step-gauge",
        14,
        "petrel",
        9,
        rounds=(
            Round(
                0,
                readings=(
                    (1, "1.0008", "m01"),
                    (2, "0.7043", "m01"),
                    (2, "0.7041", "m01"),
                    (3, "0.3735", "m01"),
                ),
                handed_in=False,
            ),
        ),
    ),
    Part("tavish", "fairlead-plate", 12, "fulmar", 16, rounds=(Round(0, -9, ticks=3, handed_in=False),)),
    Part(
        "ines",
        "keel-step-gauge",
        13,
        "fulmar",
        9,
        rounds=(Round(0, readings=_but(_GAUGE, (3, "0.3702", "m01"), (3, "0.3701", "m01"))),),
    ),
    Part("bryn", "shackle-pin", 8, "gannet", 20, rounds=(Round(0, -20, ticks=1, handed_in=False),)),
    Part(
        "senna",
        "tide-block",
        21,
        "dunlin",
        4,
        rounds=(
            Round(
                7,
                readings=_but(_BLOCK, (2, "1.5046", "m12"), (2, "1.5049", "m12")),
                decision=Decided(
                    "haldane",
                    ((2, "1.5048", "m12"), (3, "0.9981", "m01")),
                    "Everything else is in. Take the width down, finish pass only.",
                    ((2, "rework", "0.0018 to take off the rear face"),),
                ),
            ),
            Round(0, -47, ticks=0, readings=((2, "1.5012", "m12"), (2, "1.5010", "m12"))),
        ),
    ),
    Part("ruari", "keel-step-gauge", 3, "petrel", 25, not_before_signed=True),
    Part("piet", "tide-block", 3, "petrel", 25, not_before_signed=True),
    Part("edda", "tide-block", 3, "dunlin", 25, not_before_signed=True),
    Part("juno", "keel-step-gauge", 20, "petrel", 11),
    Part("dov", "tide-block", 10, "gannet", 12, rounds=(Round(5, ticks=4, readings=(), handed_in=False),)),
    Part("freya", "keel-step-gauge", 10, "gannet", 18, rounds=(Round(5, ticks=2, handed_in=False),)),
    Part("lio", "tide-block", 6, "fulmar", 18, rounds=(Round(5, ticks=1, handed_in=False),)),
    Part("tam", "tide-block", 6, "petrel", 18),
    Part("nell", "tide-block", 6, "dunlin", 18),
)


@dataclass(frozen=True)
class Withdrawn:
    """A skill that was withdrawn, with the written record."""

    student: str
    skill: str
    machine: str
    days: float
    reason: str
    place: str
    witness: str
    done: str


WITHDRAWN = (
    Withdrawn(
        "juno",
        "square-block",
        "",
        11,
        "reached over the turning cutter to brush chips off the jaw",
        "Petrel, vise",
        "Wren Dacosta",
        "stopped at once, nobody hurt, talked through; to be seen again from the first cut",
    ),
)


@dataclass(frozen=True)
class Happened:
    """Something that nearly happened; without a name when ``by`` is empty."""

    by: str
    days: float
    machine: str
    what: str
    done: str


HAPPENED = (
    Happened(
        "",
        6,
        "fulmar",
        "The wrench was still on the drawbar when I reached for the start. The guard would not close.",
        "",
    ),
    Happened(
        "dacosta",
        33,
        "dunlin",
        "A parallel slid out under the block when the vise was opened and fell beside a foot.",
        "Parallels are taken out by hand before the jaw opens; shown to the whole group.",
    ),
)
