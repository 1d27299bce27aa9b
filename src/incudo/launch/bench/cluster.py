"""``incudo test cluster``: three database nodes and two web servers on loopback, written to while parts of them fail.

What must hold: nothing acknowledged is lost or doubled, the register holds on every node, and the interlock is never
told that a machine is free after its tag was acknowledged. What is measured: how long writers waited in each case.
"""

from __future__ import annotations

import getpass
import json
import os
import shutil
import signal
import subprocess
import tempfile
import threading
import time
import urllib.error
import urllib.request
import uuid
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

import pymysql

from incudo.app.kernel.unit import Unit
from incudo.app.register.chain import verify
from incudo.demo.story import key
from incudo.launch.bench.college import PASSWORD, College
from incudo.launch.configuration import WEB
from incudo.launch.mariadb import APP_ACCOUNT, DATABASE, PrivateMariaDB, Secrets
from incudo.launch.processes import free_port
from incudo.launch.web import Front, WebServer
from incudo.store.kernel.database import open_engine
from incudo.store.kernel.migrate import migrate

PROVIDERS = ("/usr/lib/galera/libgalera_smm.so", "/usr/lib64/galera-4/libgalera_smm.so")
NODES, WRITERS, PHASE = 3, 10, 12.0
#: So long one caller waits for one answer, and a web server for a silent node.
PATIENCE, SILENCE = 8.0, 2.0
Say = Callable[[str], None]


class Node(PrivateMariaDB):
    """One node of the cluster."""

    def __init__(self, folder: Path, secrets: Secrets) -> None:
        super().__init__(folder, free_port(), secrets)
        self.group, self.transfer, self.snapshot = free_port(), free_port(), free_port()
        if os.geteuid() == 0:
            # a server that copies its files to another one must not be root: rsync would not write them
            self.account = "mysql"

    def join(self, others: str, *, found: bool = False) -> None:
        """Start as a part of the cluster that these addresses name; the first one founds it."""
        if found:
            state = self.data / "grastate.dat"
            if state.exists():
                state.write_text(state.read_text().replace("safe_to_bootstrap: 0", "safe_to_bootstrap: 1"))
        provider = next((p for p in PROVIDERS if Path(p).exists()), None)
        if provider is None:
            raise SystemExit("The cluster needs the package galera-4, which comes with Debian's mariadb-server.")
        group = f"gmcast.listen_addr=tcp://127.0.0.1:{self.group};ist.recv_addr=127.0.0.1:{self.transfer};"
        group += "evs.suspect_timeout=PT2S;evs.inactive_timeout=PT4S;evs.keepalive_period=PT0.5S;gcache.size=64M"
        self.options = [
            "--wsrep-on=ON",
            f"--wsrep-provider={provider}",
            f"--wsrep-provider-options={group}",
            f"--wsrep-cluster-address=gcomm://{'' if found else others}",
            f"--wsrep-node-name=node{self.port}",
            "--wsrep-node-address=127.0.0.1",
            f"--wsrep-node-incoming-address=127.0.0.1:{self.port}",
            f"--wsrep-sst-receive-address=127.0.0.1:{self.snapshot}",
            "--wsrep-sst-method=rsync",
            "--binlog-format=ROW",
            "--innodb-autoinc-lock-mode=2",
            *self._position(),
        ]
        self.start()

    def hand_over(self) -> None:
        """Give the files to whoever the server is run by."""
        self.data.mkdir(parents=True, exist_ok=True)
        for path in (self.folder, *self.folder.rglob("*")):
            shutil.chown(path, self.account)

    def _position(self) -> list[str]:
        """Where a node that was killed had come to, so that it takes what it lacks and not everything."""
        if not (self.data / "ibdata1").exists():
            return []
        with tempfile.NamedTemporaryFile("r", suffix=".log") as log:
            Path(log.name).chmod(0o666)
            folders = (f"--datadir={self.data}", f"--tmpdir={self.tables}")
            command = ["mariadbd", "--no-defaults", f"--user={self.account}", *folders]
            subprocess.run(
                [
                    *command,
                    "--wsrep-recover",
                    f"--log-error={log.name}",
                    "--skip-networking",
                    "--innodb-flush-log-at-trx-commit=1",
                ],
                capture_output=True,
                check=False,
            )
            lines = [x for x in log.read().splitlines() if "Recovered position:" in x]
        position = lines[-1].rpartition("Recovered position:")[2].strip() if lines else ""
        return [f"--wsrep-start-position={position}"] if position and not position.endswith(":-1") else []

    def status(self, name: str) -> str:
        """What the node says of itself; empty when it does not answer."""
        try:
            link = self._root()
            try:
                with link.cursor() as cursor:
                    cursor.execute("SHOW GLOBAL STATUS LIKE %s", (name,))
                    row = cursor.fetchone()
                    return str(row[1]) if row else ""
            finally:
                link.close()
        except pymysql.Error:
            return ""

    def _root(self) -> Any:
        return pymysql.connect(
            unix_socket=self.socket, user=getpass.getuser(), connect_timeout=2, read_timeout=5, autocommit=True
        )

    def cut(self, *, off: bool) -> None:
        """Cut the node off from the others, or join it to them again."""
        link = self._root()
        try:
            with link.cursor() as cursor:
                cursor.execute(f"SET GLOBAL wsrep_provider_options = 'gmcast.isolate={int(off)}'")
        finally:
            link.close()

    def end(self, how: signal.Signals) -> None:
        """Send a signal to the server's process."""
        if self.process is not None:
            self.process.send_signal(how)


@dataclass
class Told:
    """What callers were told: by id when it was acknowledged, and how long each waited."""

    acknowledged: dict[str, float] = field(default_factory=dict)
    waits: list[tuple[float, float]] = field(default_factory=list)
    wrong: list[str] = field(default_factory=list)
    asked: int = 0
    lock: threading.Lock = field(default_factory=threading.Lock)


class Caller:
    """Somebody at a browser who knows both servers, and goes to the other one when one does not answer."""

    def __init__(self, servers: list[str], first: int) -> None:
        self.servers, self.at = servers, first
        self.cookies: dict[str, str] = {}
        self.tokens: dict[str, str] = {}

    def send(self, path: str, body: dict[str, Any], headers: dict[str, str] | None = None) -> Any:
        """Send until it is answered, to one server after the other; a refusal is an error."""
        while True:
            server = self.servers[self.at % len(self.servers)]
            try:
                return self._once(server, path, body, headers or {})
            except urllib.error.HTTPError as error:
                if error.code not in (500, 502, 503, 504):
                    raise RuntimeError(f"{path}: {error.code} {error.read().decode()[:300]}") from error
            except (OSError, TimeoutError):
                pass
            self.at += 1
            time.sleep(0.1)

    def _once(self, server: str, path: str, body: dict[str, Any], headers: dict[str, str]) -> Any:
        request = urllib.request.Request(  # noqa: S310 (a loopback address)
            server + path,
            json.dumps(body).encode(),
            {"Content-Type": "application/json", "Cookie": self.cookies.get("c", ""), **self.tokens, **headers},
        )
        with urllib.request.urlopen(request, timeout=PATIENCE) as answer:  # noqa: S310
            self.answer_headers = answer.headers
            return json.loads(answer.read())

    def sign_in(self, login: str) -> None:
        """Once: a session holds on both servers, since it stands in the database."""
        me = self.send("/api/sign-in", {"login": login, "password": PASSWORD})
        cookies = [x.split(";")[0] for x in self.answer_headers.get_all("Set-Cookie")]
        self.cookies["c"], self.tokens = "; ".join(cookies), {"X-Incudo-Token": me["token"]}


class Cluster:
    """Three nodes, two servers, and people who write."""

    def __init__(self, folder: Path, say: Say) -> None:
        secrets = Secrets("owner-of-a-test", "app-of-a-test")
        self.folder, self.say = folder, say
        self.nodes = [Node(folder / f"node{n}", secrets) for n in range(NODES)]
        self.key, self.device_key = "key of a test", "device key of a test"
        self.servers: list[WebServer] = []
        self.addresses: list[str] = []

    @property
    def group(self) -> str:
        return ",".join(f"127.0.0.1:{n.group}" for n in self.nodes)

    def start(self) -> None:
        """Make a shop, found the cluster with it, start both servers."""
        first, *others = self.nodes
        first.account = getpass.getuser()
        first.install()
        first.start()
        migrate(first.owner_url, APP_ACCOUNT)
        unit = Unit(open_engine(first.app_url), key=self.key)
        College(datetime.now(UTC), self.key).set_up(unit, self.device_key)
        unit.engine.dispose()
        first.stop()
        first.account = others[0].account
        for node in self.nodes:
            node.hand_over()
        first.join(self.group, found=True)
        for node in others:
            node.join(self.group)
        self.whole(60)
        for n in range(2):
            order = [*self.nodes[n:], *self.nodes[:n]]
            port = free_port()
            server = WebServer(Front(f"127.0.0.1:{port}"), self.folder / f"web{n}.log")
            server.start(
                os.environ
                | {
                    "INCUDO_DATABASE": ",".join(x.app_url for x in order),
                    "INCUDO_DATABASE_SECONDS": str(SILENCE),
                    "INCUDO_SECRET": "secret of a test",
                    "INCUDO_REGISTER_KEY": self.key,
                    "INCUDO_WEB": str(WEB),
                    "INCUDO_CHEAP_SECRETS": "1",
                }
            )
            self.servers.append(server)
            self.addresses.append(f"http://127.0.0.1:{port}")
        for address in self.addresses:
            _until(60, lambda a=address: _answers(a), f"{address} answers")  # type: ignore[misc]

    def whole(self, seconds: float) -> float:
        """Wait until all nodes take part; how long that took."""
        began = time.monotonic()
        _until(
            seconds,
            lambda: all(
                n.status("wsrep_cluster_size") == str(NODES) and n.status("wsrep_local_state_comment") == "Synced"
                for n in self.nodes
            ),
            "all nodes take part",
        )
        return time.monotonic() - began

    def stop(self) -> None:
        for server in self.servers:
            server.stop()
        for node in self.nodes:
            node.end(signal.SIGCONT)
            node.stop()


def _until(seconds: float, holds: Callable[[], bool], what: str) -> None:
    end = time.monotonic() + seconds
    while not holds():
        if time.monotonic() > end:
            raise SystemExit(f"waited {seconds:.0f} s in vain until {what}")
        time.sleep(0.2)


def _answers(address: str) -> bool:
    try:
        with urllib.request.urlopen(f"{address}/api/health", timeout=3) as answer:  # noqa: S310
            return bool(answer.status == 200)
    except OSError:
        return False


@contextmanager
def writing(cluster: Cluster, told: Told) -> Iterator[None]:
    """Ten people report near misses, one hangs and clears a tag, and the interlock asks, all the time."""
    over = threading.Event()

    def report(n: int) -> None:
        caller = Caller(cluster.addresses, n)
        caller.sign_in("haldane" if n % 2 else "selby")
        while not over.is_set():
            ident, began = str(uuid.uuid4()), time.monotonic()
            said = {"id": ident, "kind": "near_miss", "what": f"writer {n} saw something", "with_name": True}
            caller.send("/api/incidents", said)
            with told.lock:
                told.acknowledged[ident] = time.monotonic()
                told.waits.append((began, time.monotonic() - began))

    #: Between the two moments the machine is closed for sure: acknowledged, and the clearing not sent yet.
    closed: list[float | None] = [None]
    machine = str(key("machine", "fulmar"))

    def hang() -> None:
        caller = Caller(cluster.addresses, 0)
        caller.sign_in("haldane")
        while not over.is_set():
            tag = str(uuid.uuid4())
            caller.send("/api/tags", {"id": tag, "machine": machine, "note": "the belt squeals"})
            closed[0] = time.monotonic()
            time.sleep(0.4)
            closed[0] = None
            caller.send(f"/api/tags/{tag}/clear", {"note": "new belt", "pin": "1407"})

    def ask(n: int) -> None:
        caller = Caller(cluster.addresses, n)
        headers = {"Authorization": f"Bearer {cluster.device_key}"}
        while not over.is_set():
            since, began = closed[0], time.monotonic()
            answer = caller.send("/api/interlock", {}, headers)
            # closed before it was asked and still closed when it was answered
            sure = since is not None and since < began and closed[0] == since
            mine = next(m for m in answer["machines"] if m["machine"] == machine)
            with told.lock:
                told.asked += 1
                if sure and not any("tagged out" in w for w in mine["why"]):
                    told.wrong.append(f"free {began - since:.2f} s after its tag was acknowledged")  # type: ignore[operator]
            time.sleep(0.05)

    jobs = [*((report, n) for n in range(WRITERS)), (ask, 0), (ask, 1)]
    threads = [threading.Thread(target=f, args=(n,), daemon=True) for f, n in jobs]
    threads.append(threading.Thread(target=hang, daemon=True))
    for thread in threads:
        thread.start()
    try:
        yield
    finally:
        over.set()
        for thread in threads:
            thread.join(90)
        if any(thread.is_alive() for thread in threads):
            raise SystemExit("somebody still waits for an answer 90 s after the end")


@dataclass(frozen=True)
class Case:
    """What happened, how many were acknowledged meanwhile, and how long writers waited, in seconds."""

    name: str
    written: int
    median: float
    longest: float
    whole_after: float


def run_cluster() -> int:
    """Do all of it and print the table; 1 when something was lost, doubled, wrong or broken."""
    folder = Path(tempfile.mkdtemp(prefix="incudo-cluster-"))
    folder.chmod(0o755)
    cluster, told, cases = Cluster(folder, _say), Told(), []
    try:
        _say(f"three nodes and two servers in {folder}")
        cluster.start()
        with writing(cluster, told):
            for name, act in _happenings(cluster):
                _say(name)
                began, before = time.monotonic(), len(told.acknowledged)
                after = act()
                now = time.monotonic()
                waits = sorted(w for at, w in list(told.waits) if began <= at < now) or [now - began]
                count = len(told.acknowledged) - before
                cases.append(Case(name, count, waits[len(waits) // 2], waits[-1], after))
        cluster.whole(60)
        faults = _faults(cluster, told)
    finally:
        cluster.stop()
        shutil.rmtree(folder, ignore_errors=True)
    print("\n| what happens | acknowledged | median wait s | longest wait s | whole again after s |")
    print("| --- | --: | --: | --: | --: |")
    for c in cases:
        print(f"| {c.name} | {c.written} | {c.median:.2f} | {c.longest:.1f} | {c.whole_after:.1f} |")
    print(f"\n{len(told.acknowledged)} reports acknowledged, {told.asked} answers to the interlock")
    for fault in faults:
        print(f"WRONG: {fault}")
    if not faults:
        print("nothing lost, nothing doubled, every node's register holds, the interlock's answer was never wrong")
    return 1 if faults else 0


def _say(text: str) -> None:
    print(f"  {text}", flush=True)


def _happenings(cluster: Cluster) -> Iterator[tuple[str, Callable[[], float]]]:
    one, two, three = cluster.nodes

    def quiet() -> float:
        time.sleep(PHASE)
        return 0.0

    def killed() -> float:
        two.end(signal.SIGKILL)
        time.sleep(PHASE)
        if two.process:
            two.process.wait()
        two.join(cluster.group)
        return cluster.whole(60)

    def frozen() -> float:
        one.end(signal.SIGSTOP)
        time.sleep(PHASE)
        one.end(signal.SIGCONT)
        return cluster.whole(60)

    def cut() -> float:
        three.cut(off=True)
        time.sleep(PHASE)
        three.cut(off=False)
        return cluster.whole(60)

    def outage() -> float:
        for node in cluster.nodes:
            node.end(signal.SIGKILL)
        for node in cluster.nodes:
            if node.process:
                node.process.wait()
        began = time.monotonic()
        newest = max(cluster.nodes, key=_recovered)
        newest.join(cluster.group, found=True)
        for node in cluster.nodes:
            if node is not newest:
                node.join(cluster.group)
        cluster.whole(90)
        return time.monotonic() - began

    yield "all is well", quiet
    yield "a node is killed (-9) and comes back", killed
    yield "a node freezes and goes on", frozen
    yield "a node is cut off and joined again", cut
    yield "all are killed and started again", outage
    yield "all is well again", quiet


def _recovered(node: Node) -> int:
    """The last transaction that a killed node has."""
    found = node._position()
    return int(found[0].rpartition(":")[2]) if found else -1


def _faults(cluster: Cluster, told: Told) -> list[str]:
    """Everything that must not be."""
    faults = [f"the interlock: {x}" for x in told.wrong[:5]]
    for n, node in enumerate(cluster.nodes):
        unit = Unit(open_engine(node.app_url), key=cluster.key)
        broken = unit.run(lambda w: [b.words for b in verify(w, ())])
        unit.engine.dispose()
        faults += [f"node {n}: the register: {x}" for x in broken[:5]]
        link = pymysql.connect(
            host="127.0.0.1", port=node.port, user="incudo_app", password=node.secrets.app, database=DATABASE
        )
        with link, link.cursor() as cursor:
            cursor.execute("SELECT id, COUNT(*) FROM incident GROUP BY id")
            rows = {str(row[0]): int(row[1]) for row in cursor.fetchall()}
            cursor.execute("SELECT entry_id, COUNT(*) FROM register_entry WHERE kind = 'near_miss' GROUP BY entry_id")
            sealed = {str(row[0]): int(row[1]) for row in cursor.fetchall()}
        lost = told.acknowledged.keys() - rows.keys()
        doubled = [i for i, count in (*rows.items(), *sealed.items()) if count != 1]
        faults += [f"node {n}: {len(lost)} acknowledged reports are lost"] if lost else []
        faults += [f"node {n}: {len(doubled)} reports stand more than once"] if doubled else []
    return faults
