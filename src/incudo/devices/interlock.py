"""A stand-in for the interlock devices of all machines, in a process of its own.

It reports what turns and does what Incudo tells it: one start-enable and one
lamp per machine. It is a stand-in for teaching and testing and never the safety
system of a machine. Its panel is a page on loopback, at which one presses the
machine's own buttons and cuts the link.

Run by ``python -m incudo.devices.interlock``; INCUDO_ADDRESS, INCUDO_DEVICE_KEY
and INCUDO_PANEL_PORT say where and as whom.
"""

from __future__ import annotations

import json
import logging
import os
import threading
import time
import urllib.error
import urllib.request
from dataclasses import dataclass, field, replace
from http import HTTPStatus
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from importlib import resources
from typing import Any

from incudo.core.session.interlock import Command, Lamp, Motion, follow, press_start

#: How often the device asks, and after which silence it takes the link as lost, in seconds.
EVERY, LOST = 0.5, 2.0
_DARK = Command(enable=False, lamp=Lamp.DARK, stop=False)
_log = logging.getLogger(__name__)


@dataclass
class Box:
    """The device at one machine."""

    name: str
    motion: Motion = field(default_factory=Motion)
    told: Command = _DARK
    person: str = ""
    why: tuple[str, ...] = ()


@dataclass
class StandIn:
    """All boxes and the link to Incudo."""

    address: str
    key: str
    boxes: dict[str, Box] = field(default_factory=dict)
    linked: bool = True
    heard: float = 0.0
    lock: threading.Lock = field(default_factory=threading.Lock)

    def exchange(self) -> None:
        """Report once and follow the answer; a lost link is followed too."""
        with self.lock:
            linked = self.linked
            body = {
                "machines": [
                    {"machine": m, "spindle": b.motion.spindle, "feed": b.motion.feed} for m, b in self.boxes.items()
                ]
            }
        answer = self._ask(body) if linked else None
        with self.lock:
            if answer is not None and self.linked:
                self.heard = time.monotonic()
                for told in answer["machines"]:
                    self._take(told)
            elif not self.linked or time.monotonic() - self.heard > LOST:
                for box in self.boxes.values():
                    box.motion, box.told = follow(box.motion, None)
                    box.why = ("The link to Incudo is lost.",)

    def _ask(self, body: Any) -> Any:
        request = urllib.request.Request(  # noqa: S310 (loopback address from our own configuration)
            f"{self.address}/api/interlock",
            data=json.dumps(body).encode(),
            headers={"Content-Type": "application/json", "Authorization": f"Bearer {self.key}"},
        )
        try:
            with urllib.request.urlopen(request, timeout=1.5) as response:  # noqa: S310
                return json.loads(response.read())
        except (urllib.error.URLError, OSError, ValueError) as error:
            _log.info("no answer: %s", error)
            return None

    def _take(self, told: Any) -> None:
        box = self.boxes.setdefault(told["machine"], Box(told["name"]))
        command = Command(enable=told["enable"], lamp=Lamp(told["lamp"]), stop=told["stop"])
        box.motion, box.told = follow(box.motion, command)
        box.person, box.why = told["person"], tuple(told["why"])

    def press(self, machine: str, button: str) -> None:
        """Somebody presses a button of the machine itself. Raises ``KeyError`` for an unknown one."""
        with self.lock:
            box = self.boxes[machine]
            match button:
                case "start":
                    box.motion = press_start(box.motion, box.told)
                case "stop":
                    box.motion = Motion()
                case "feed":
                    box.motion = replace(box.motion, feed=box.motion.spindle and not box.motion.feed)
                case _:
                    raise KeyError(button)

    def link(self, *, on: bool) -> None:
        with self.lock:
            self.linked = on
            self.heard = time.monotonic()

    def state(self) -> dict[str, Any]:
        """What the panel shows."""
        with self.lock:
            return {
                "linked": self.linked,
                "machines": [
                    {
                        "machine": m,
                        "name": b.name,
                        "spindle": b.motion.spindle,
                        "feed": b.motion.feed,
                        "enable": b.told.enable,
                        "lamp": b.told.lamp.value,
                        "stop": b.told.stop,
                        "person": b.person,
                        "why": list(b.why),
                    }
                    for m, b in self.boxes.items()
                ],
            }


def panel(stand_in: StandIn, port: int) -> ThreadingHTTPServer:
    """The panel's server on loopback; it takes orders from its own page only."""
    page = resources.files("incudo.devices").joinpath("panel.html").read_bytes()

    class Panel(BaseHTTPRequestHandler):
        def do_GET(self) -> None:
            if self.path == "/state":
                self._send(json.dumps(stand_in.state()).encode(), "application/json")
            elif self.path == "/":
                self._send(page, "text/html; charset=utf-8")
            else:
                self.send_error(HTTPStatus.NOT_FOUND)

        def do_POST(self) -> None:
            host = self.headers.get("Host", "")
            origin = self.headers.get("Origin", f"http://{host}")
            if origin != f"http://{host}" or host.partition(":")[0] not in ("127.0.0.1", "localhost"):
                self.send_error(HTTPStatus.FORBIDDEN)
                return
            try:
                body = json.loads(self.rfile.read(min(int(self.headers.get("Content-Length", "0")), 1000)))
                if self.path == "/link":
                    stand_in.link(on=bool(body["on"]))
                else:
                    stand_in.press(str(body["machine"]), str(body["button"]))
            except (KeyError, ValueError, TypeError):
                self.send_error(HTTPStatus.UNPROCESSABLE_ENTITY)
                return
            self._send(json.dumps(stand_in.state()).encode(), "application/json")

        def _send(self, data: bytes, kind: str) -> None:
            self.send_response(HTTPStatus.OK)
            self.send_header("Content-Type", kind)
            self.send_header("Content-Length", str(len(data)))
            self.send_header("Cache-Control", "no-store")
            self.end_headers()
            self.wfile.write(data)

        def log_message(self, format: str, *args: Any) -> None:
            _log.debug(format, *args)

    return ThreadingHTTPServer(("127.0.0.1", port), Panel)


def main() -> None:
    """Serve the panel and talk to Incudo until the process is ended."""
    logging.basicConfig(level=logging.WARNING)
    stand_in = StandIn(os.environ["INCUDO_ADDRESS"], os.environ["INCUDO_DEVICE_KEY"])
    server = panel(stand_in, int(os.environ["INCUDO_PANEL_PORT"]))
    threading.Thread(target=server.serve_forever, daemon=True).start()
    while True:
        stand_in.exchange()
        time.sleep(EVERY)


if __name__ == "__main__":
    main()
