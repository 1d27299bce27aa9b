"""The web server of one instance: nginx in front, gunicorn behind it in lanes.

nginx takes whole requests before anybody works on them and whole answers off the workers'
hands, so that a slow or silent caller costs a connection and never a worker. It bounds what
is taken in (bytes, seconds, connections) and says so as a problem document.
"""

from __future__ import annotations

import json
import os
import resource
import shutil
import signal
import subprocess
import sys
import tempfile
from dataclasses import dataclass
from pathlib import Path

from incudo.api.kernel.body import MOST_BYTES, MOST_BYTES_OF_A_FILE
from incudo.api.kernel.problems import TITLES
from incudo.launch.lanes import HEAVY, INTERLOCK, LANES, WORK, socket_of
from incudo.launch.processes import die_with_parent, kill_group

#: Connections of one address at once; a whole school may stand behind one.
OF_ONE_ADDRESS = 400
#: What may be printed or written out at once, waiting ones included.
HEAVY_AT_ONCE = 12
#: What is worked on in the lane for heavy work: sheets to print, whole registers and tables, the search for a plan.
HEAVY_PATHS = (
    r"^/api/(?:.*\.pdf|registers/[^/]+/file|register(?:/walk)?|tables/[^/]+|project-checks|projects/[^/]+/versions|"
    r"projects/[^/]+/plans|job-cards/[^/]+/plan/(?:own|task)|groups/[^/]+/[^/]+\.(?:xlsx|csv)|people/[^/]+/data(?:-paper)?|"
    r"students/[^/]+/credentials\.json|credentials/check)$"
)
_MOST_PROXIES = 5
_MOST_PATIENCE = 20
#: Seconds that the front waits for an answer to work, and to something heavy.
ANSWER, HEAVY_ANSWER = 30, 120


@dataclass(frozen=True)
class Front:
    """Where the front listens and what stands before it.

    ``bind``: address and port. ``certificate``, ``key``: PEM files for TLS. ``proxies``: how many
    proxies of the shop's own stand before it, whose word about the caller is believed. ``patience``:
    how many times longer than usual it waits for an answer, on a machine that is slow.
    """

    bind: str
    certificate: str = ""
    key: str = ""
    proxies: int = 0
    patience: int = 1

    @property
    def trusted(self) -> int:
        """How many entries of X-Forwarded-For the application may believe: the shop's and our own."""
        return self.proxies + 1


def proxies_from(text: str) -> int:
    """The number of proxies from its setting. Ends with a message that names the bound."""
    return _whole("INCUDO_PROXIES", text, 0, _MOST_PROXIES)


#: Addresses that nobody outside this machine reaches.
LOOPBACK = ("127.0.0.1", "localhost", "[::1]")


def listen_from(text: str, proxies: int) -> str:
    """The address to listen at, from its setting. Ends with a message unless it is this machine's own or behind TLS."""
    if text in LOOPBACK or proxies:
        return text
    raise SystemExit(f"INCUDO_LISTEN: {text} is beyond this machine: set INCUDO_PROXIES=1 behind a proxy that has TLS.")


def patience_from(text: str) -> int:
    """How many times longer everything waits, from its setting. Ends with a message that names the bound."""
    return _whole("INCUDO_PATIENCE", text, 1, _MOST_PATIENCE)


def _whole(name: str, text: str, least: int, most: int) -> int:
    if not text.isascii() or not text.isdigit() or not least <= int(text) <= most:
        raise SystemExit(f"{name} is {text!r}: must be a whole number from {least} to {most}")
    return int(text)


class WebServer:
    """nginx and gunicorn of one instance; sockets lie in a short folder of their own. No log: standard error."""

    def __init__(self, front: Front, log: Path | None = None, workers: int = 2) -> None:
        self.front, self.log, self.workers = front, log, workers
        self.nginx: subprocess.Popen[bytes] | None = None
        self.gunicorn: subprocess.Popen[bytes] | None = None
        self.folder = Path(tempfile.mkdtemp(prefix="inc-"))

    def start(self, environment: dict[str, str], *, reload: bool = False) -> None:
        """Start what does not run; ``environment`` is what the application reads its settings from."""
        if self.gunicorn is None or self.gunicorn.poll() is not None:
            self._start_gunicorn(environment, reload=reload)
        if self.nginx is None or self.nginx.poll() is not None:
            self._start_nginx()

    def _start_gunicorn(self, environment: dict[str, str], *, reload: bool) -> None:
        if self.gunicorn is not None:
            kill_group(self.gunicorn.pid)
        command = [sys.executable, "-m", "gunicorn", "-c", "python:incudo.launch.lanes"]
        command += ["--error-logfile", str(self.log or "-"), "incudo.api.server:from_environment()"]
        self.gunicorn = subprocess.Popen(
            command,
            env=environment
            | {
                "INCUDO_LANES": str(self.folder),
                "INCUDO_WORKERS": str(self.workers),
                "INCUDO_RELOAD": "1" if reload else "0",
                "INCUDO_TRUSTED_PROXIES": str(self.front.trusted),
                "INCUDO_PATIENCE": str(self.front.patience),
                "INCUDO_DOCUMENT": "0",
            },
            stdin=subprocess.DEVNULL,
            start_new_session=True,
            preexec_fn=die_with_parent,
        )

    def _start_nginx(self) -> None:
        if self.nginx is not None:
            kill_group(self.nginx.pid)
        settings = self.folder / "nginx.conf"
        settings.write_text(nginx_settings(self.front, self.folder, self.log))
        program = shutil.which("nginx") or "/usr/sbin/nginx"
        command = [program, "-p", str(self.folder), "-c", str(settings), "-e", str(self.log or "stderr")]
        self.nginx = subprocess.Popen(
            [*command, "-g", "daemon off;"],
            stdin=subprocess.DEVNULL,
            stdout=subprocess.DEVNULL,
            stderr=None if self.log is None else subprocess.DEVNULL,
            start_new_session=True,
            preexec_fn=die_with_parent,
        )

    @property
    def dead(self) -> str:
        """Which part has ended, or empty."""
        for name, process in (("front", self.nginx), ("web server", self.gunicorn)):
            if process is not None and process.poll() is not None:
                return name
        return ""

    def stop(self) -> None:
        """Take no more requests, finish those that are in hand, end both."""
        _end(self.nginx, signal.SIGQUIT, 12)
        _end(self.gunicorn, signal.SIGTERM, 20)
        shutil.rmtree(self.folder, ignore_errors=True)


def _end(process: subprocess.Popen[bytes] | None, by: signal.Signals, seconds: int) -> None:
    """End a part; where its master has died already, what it left behind."""
    if process is None:
        return
    if process.poll() is not None:
        kill_group(process.pid)
        return
    process.send_signal(by)
    try:
        process.wait(timeout=seconds)
    except subprocess.TimeoutExpired:
        kill_group(process.pid)
        process.wait()


def nginx_settings(front: Front, folder: Path, log: Path | None) -> str:
    """The text of nginx's settings."""
    files = min(resource.getrlimit(resource.RLIMIT_NOFILE)[1], 8192)
    tls = bool(front.certificate and front.key)
    listen = f"listen {front.bind}{' ssl http2' if tls else ''};"
    if tls:
        listen += f"\n    ssl_certificate {front.certificate};\n    ssl_certificate_key {front.key};"
        listen += "\n    ssl_protocols TLSv1.2 TLSv1.3;"
    came_from = "$proxy_add_x_forwarded_for" if front.proxies else "$remote_addr"
    scheme = "$http_x_forwarded_proto" if front.proxies else "$scheme"
    upstreams = "\n".join(
        f"  upstream {lane.name} {{ server unix:{socket_of(folder, lane)} max_fails=0; }}" for lane in LANES
    )
    temporary = "\n".join(
        f"  {kind}_temp_path {folder}/{kind};" for kind in ("client_body", "proxy", "fastcgi", "uwsgi", "scgi")
    )
    user = "user root root;" if os.geteuid() == 0 else ""
    return f"""{user}
worker_processes 1;
worker_rlimit_nofile {files};
pid {folder}/nginx.pid;
error_log {log or "stderr"} error;
events {{ worker_connections {files // 2 - 64}; }}
http {{
  access_log off;
  server_tokens off;
{temporary}
  client_header_timeout 10s;
  client_body_timeout 10s;
  send_timeout 20s;
  keepalive_timeout 30s;
  reset_timedout_connection on;
  client_header_buffer_size 2k;
  large_client_header_buffers 4 16k;
  client_max_body_size {MOST_BYTES_OF_A_FILE};
  limit_conn_zone $binary_remote_addr zone=address:2m;
  limit_conn_zone $server_name zone=heavy:64k;
  limit_conn_log_level warn;
{upstreams}
  proxy_http_version 1.1;
  proxy_set_header Connection "";
  proxy_set_header Host $http_host;
  proxy_set_header X-Forwarded-For {came_from};
  proxy_set_header X-Forwarded-Proto {scheme};
  proxy_connect_timeout 3s;
  proxy_next_upstream off;
  server {{
    {listen}
    server_name incudo;
    limit_conn address {OF_ONE_ADDRESS};
{_own_answers()}
    location / {{
      proxy_pass http://{WORK.name};
      proxy_read_timeout {ANSWER * front.patience}s;
    }}
    location ~ ^/api/(?:interlock|health)$ {{
      client_max_body_size {MOST_BYTES};
      proxy_pass http://{INTERLOCK.name};
      proxy_read_timeout 5s;
    }}
    location ~ {HEAVY_PATHS} {{
      limit_conn heavy {HEAVY_AT_ONCE};
      limit_conn address {OF_ONE_ADDRESS};
      proxy_pass http://{HEAVY.name};
      proxy_read_timeout {HEAVY_ANSWER * front.patience}s;
    }}
  }}
}}
"""


def _own_answers() -> str:
    """What nginx itself answers, as problem documents like all others."""
    answers = {
        408: (408, "too-slow", "The request did not come in time.", "408"),
        413: (413, "too-large", "The request is larger than may be sent here.", "413"),
        502: (503, "starting", "The server is starting or busy; what you entered is kept, try again.", "502 504"),
        503: (503, "busy", "Too much is asked for at once; try again in a few seconds.", "503"),
    }
    lines = []
    for code, (status, kind, detail, errors) in answers.items():
        title = TITLES.get(status, "Request refused")
        body = json.dumps(
            {"type": f"urn:incudo:{kind}", "title": title, "status": status, "detail": detail, "errors": []}
        )
        again = "add_header Retry-After 2 always; " if status == 503 else ""
        lines.append(f"    error_page {errors} ={status} @own{code};")
        lines.append(
            f"    location @own{code} {{ internal; default_type application/problem+json; {again}"
            f"return {status} '{body}'; }}"
        )
    return "\n".join(lines)
