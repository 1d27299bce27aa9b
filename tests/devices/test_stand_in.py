"""The interlock stand-in by itself, against a server that answers what a test wants, or not at all."""

from __future__ import annotations

import json
import threading
import time
import urllib.error
import urllib.request
from collections.abc import Iterator
from http.server import BaseHTTPRequestHandler, HTTPServer
from typing import Any

import pytest

from incudo.core.session.interlock import Lamp, Motion
from incudo.devices import interlock
from incudo.devices.interlock import StandIn, panel

MACHINE = "0b1f2c3d"


class Told:
    """What the server says next, and what it heard."""

    def __init__(self) -> None:
        self.answer: dict[str, Any] | None = None
        self.heard: list[Any] = []
        self.keys: list[str] = []

    def say(self, *, enable: bool, lamp: str, stop: bool = False, why: tuple[str, ...] = ()) -> None:
        one = {"machine": MACHINE, "name": "Petrel", "enable": enable, "lamp": lamp, "stop": stop}
        self.answer = {"machines": [one | {"person": "Orla Finnis", "why": list(why)}]}


@pytest.fixture
def told() -> Iterator[tuple[Told, str]]:
    state = Told()

    class Server(BaseHTTPRequestHandler):
        def do_POST(self) -> None:
            state.keys.append(self.headers["Authorization"])
            state.heard.append(json.loads(self.rfile.read(int(self.headers["Content-Length"]))))
            if state.answer is None:
                self.send_error(503)
                return
            data = json.dumps(state.answer).encode()
            self.send_response(200)
            self.send_header("Content-Length", str(len(data)))
            self.end_headers()
            self.wfile.write(data)

        def log_message(self, format: str, *args: Any) -> None:
            return

    server = HTTPServer(("127.0.0.1", 0), Server)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    yield state, f"http://127.0.0.1:{server.server_address[1]}"
    server.shutdown()
    server.server_close()


@pytest.fixture
def box(told: tuple[Told, str]) -> StandIn:
    """A stand-in that was told that Petrel may start."""
    state, address = told
    state.say(enable=True, lamp="running")
    found = StandIn(address, "its key")
    found.exchange()
    return found


def test_it_shows_its_key_and_reports_what_turns(told: tuple[Told, str], box: StandIn) -> None:
    state, _ = told
    assert state.keys == ["Bearer its key"]
    assert state.heard == [{"machines": []}], "the first time it only asks"
    box.press(MACHINE, "start")
    box.press(MACHINE, "feed")
    box.exchange()
    assert state.heard[-1] == {"machines": [{"machine": MACHINE, "spindle": True, "feed": True}]}


def test_the_start_works_only_while_it_is_enabled(told: tuple[Told, str], box: StandIn) -> None:
    state, _ = told
    box.press(MACHINE, "start")
    assert box.boxes[MACHINE].motion.spindle
    box.press(MACHINE, "stop")
    assert box.boxes[MACHINE].motion == Motion(), "the machine's own stop always works"
    state.say(enable=False, lamp="dark")
    box.exchange()
    box.press(MACHINE, "start")
    assert not box.boxes[MACHINE].motion.spindle
    box.press(MACHINE, "feed")
    assert not box.boxes[MACHINE].motion.feed, "no feed while the spindle is stopped"


def test_an_alarm_goes_on_turning_and_stop_all_stops(told: tuple[Told, str], box: StandIn) -> None:
    state, _ = told
    box.press(MACHINE, "start")
    state.say(enable=False, lamp="alarm", why=("Facing: withdrawn",))
    box.exchange()
    now = box.state()["machines"][0]
    assert (now["spindle"], now["lamp"], now["why"]) == (True, "alarm", ["Facing: withdrawn"])
    state.say(enable=False, lamp="stopped", stop=True)
    box.exchange()
    assert not box.state()["machines"][0]["spindle"]


def test_short_silence_is_borne_and_a_long_one_alarms(
    told: tuple[Told, str], box: StandIn, monkeypatch: pytest.MonkeyPatch
) -> None:
    state, _ = told
    box.press(MACHINE, "start")
    state.answer = None
    box.exchange()
    assert box.boxes[MACHINE].told.enable, "one lost answer is no lost link"
    monkeypatch.setattr(interlock, "LOST", 0.0)
    time.sleep(0.01)
    box.exchange()
    found = box.boxes[MACHINE]
    assert (found.told.enable, found.told.lamp, found.motion.spindle) == (False, Lamp.ALARM, True)
    assert found.why == ("The link to Incudo is lost.",)
    state.say(enable=True, lamp="running")
    box.exchange()
    assert box.boxes[MACHINE].told.enable, "and it finds back by itself"


def test_a_link_that_is_cut_asks_nothing(told: tuple[Told, str], box: StandIn) -> None:
    state, _ = told
    asked = len(state.heard)
    box.link(on=False)
    box.exchange()
    assert len(state.heard) == asked
    assert box.boxes[MACHINE].told.lamp is Lamp.ALARM
    assert not box.state()["linked"]


@pytest.fixture
def page(box: StandIn) -> Iterator[str]:
    server = panel(box, 0)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    yield f"http://127.0.0.1:{server.server_address[1]}"
    server.shutdown()
    server.server_close()


def post(address: str, body: Any, **headers: str) -> int:
    data = body if isinstance(body, bytes) else json.dumps(body).encode()
    try:
        with urllib.request.urlopen(urllib.request.Request(address, data=data, headers=headers), timeout=5) as answer:
            return int(answer.status)
    except urllib.error.HTTPError as error:
        return error.code


def test_the_panel_shows_and_presses(box: StandIn, page: str) -> None:
    with urllib.request.urlopen(page, timeout=5) as answer:
        text = answer.read().decode()
    assert "never the safety system of a machine" in text
    assert post(f"{page}/press", {"machine": MACHINE, "button": "start"}) == 200
    assert box.boxes[MACHINE].motion.spindle
    assert post(f"{page}/link", {"on": False}) == 200
    assert not box.linked


@pytest.mark.parametrize(
    ("path", "body", "status"),
    [
        ("/press", {"machine": "none", "button": "start"}, 422),
        ("/press", {"machine": MACHINE, "button": "eject"}, 422),
        ("/press", b"{", 422),
        ("/press", [1], 422),
        ("/link", {}, 422),
    ],
)
def test_the_panel_refuses_rubbish(page: str, path: str, body: Any, status: int) -> None:
    assert post(page + path, body) == status


def test_another_site_cannot_press_the_panels_buttons(box: StandIn, page: str) -> None:
    start = {"machine": MACHINE, "button": "start"}
    assert post(f"{page}/press", start, Origin="http://elsewhere.example") == 403
    assert post(f"{page}/press", start, Host="elsewhere.example") == 403, "nor by a name that points here"
    assert not box.boxes[MACHINE].motion.spindle
