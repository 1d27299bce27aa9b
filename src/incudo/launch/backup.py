"""``./incudo backup`` and ``./incudo restore``: a whole shop as one file, made while it is worked in.

The file is a tar of ``manifest.json``, ``dump.sql.gz`` and ``register-heads.jsonl``. The keys that seal the register
and the devices' marks stand in a file of their own beside it: who has one of the two has not both.
"""

from __future__ import annotations

import contextlib
import gzip
import hashlib
import io
import json
import os
import shutil
import subprocess
import tarfile
import tempfile
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path

from sqlalchemy import create_engine, make_url, text

from incudo.app.administration.first_run import is_set_up
from incudo.launch.configuration import home
from incudo.launch.demo import say
from incudo.launch.mariadb import APP_ACCOUNT
from incudo.launch.shops import database_of, own_shop_of_this_machine, shop_of_this_machine
from incudo.launch.supervise import Supervisor, wipe
from incudo.launch.verify import verify_shop
from incudo.store.kernel.migrate import migrate, revision_of, steps_after

FORMAT = "incudo-backup/1"
MANIFEST, DUMP, HEADS = "manifest.json", "dump.sql.gz", "register-heads.jsonl"
#: What of an instance's secrets belongs to the data; the passwords of its database do not.
KEYS = ("secret", "register_key", "device_key")
_PIECE = 1 << 20


class BadBackup(SystemExit):
    """A file that cannot be restored, and why; nothing was changed."""

    def __init__(self, file: Path, why: str) -> None:
        super().__init__(f"{file} is not restored: {why}. Nothing was changed.")


@dataclass(frozen=True)
class Manifest:
    """What a file says of itself."""

    made_at: str
    revision: str
    sha256: str


def keys_file(file: Path) -> Path:
    """Where the keys of a backup stand."""
    return file.with_name(f"{file.name}.keys")


def run_backup(name: str) -> int:
    """Write the shop of this machine, running or not, into a file. Raises ``SystemExit`` where one is there already."""
    file = Path(name).absolute()
    for there in (file, keys_file(file)):
        if there.exists():
            raise SystemExit(f"{there} is there already: give another name.")
    if not file.parent.is_dir():
        raise SystemExit(f"There is no folder {file.parent}.")
    with database_of(shop_of_this_machine(), migrated=False) as shop:
        say("reading the database; work can go on")
        back_up(shop, file)
    say(f"the keys are in {keys_file(file)}: keep them somewhere else; the register is sealed with them")
    return 0


def back_up(shop: Supervisor, file: Path) -> None:
    """Write a shop whose database runs into a new file, in the schema that it has. Raises ``SystemExit``."""
    # heads first: whatever vouches for the register must not be newer than the register in the file
    heads = shop.instance.heads.read_bytes() if shop.instance.heads.exists() else b""
    with tempfile.TemporaryDirectory(dir=file.parent, prefix=".backup-") as work:
        dump = Path(work) / DUMP
        _dump(shop, dump)
        manifest = Manifest(datetime.now(UTC).isoformat(), revision_of(shop.database.owner_url), _hash(dump))
        made = Path(work) / "backup.tar"
        _pack(made, manifest, dump, heads)
        _write_keys(keys_file(file), {k: getattr(shop.instance, k) for k in KEYS})
        made.replace(file)
    say(f"{file}, {file.stat().st_size / 1e6:.1f} MB")


def run_restore(name: str) -> int:
    """Fill the empty shop of this machine from a file. Raises ``BadBackup``; ``SystemExit`` where there is a shop."""
    file = Path(name).absolute()
    manifest = read_manifest(file)
    keys = _read_keys(file)
    folder = home() / "shop"
    try:
        with database_of(own_shop_of_this_machine()) as shop:
            _fill(shop, file, manifest, keys)
    except _FailedError as failed:
        # a database that is half filled is none
        wipe(folder / "mariadb")
        raise BadBackup(file, str(failed)) from None
    with database_of(own_shop_of_this_machine()) as shop:
        return verify_shop(shop)


class _FailedError(Exception):
    """The database did not take a file."""


def _fill(shop: Supervisor, file: Path, manifest: Manifest, keys: dict[str, str]) -> None:
    unit, folder = shop.unit(), shop.instance.folder
    there = unit.run(is_set_up)
    unit.engine.dispose()
    if there:
        raise SystemExit(f"There is a shop in {folder}: set INCUDO_HOME to an empty folder. Nothing was changed.")
    say(f"made {manifest.made_at[:16].replace('T', ' ')} UTC; filling the database")
    _load(shop, file)
    migrate(shop.database.owner_url, APP_ACCOUNT)
    kept = json.loads((folder / "instance.json").read_text())
    _write(folder / "instance.json", json.dumps(kept | keys, indent=1))
    with tarfile.open(file) as tar:
        shop.instance.heads.write_bytes(_member(tar, file, HEADS))
    say("filled; ./incudo start serves it")


def read_manifest(file: Path) -> Manifest:
    """What a file says of itself, once its content is what it says. Raises ``BadBackup``."""
    try:
        with tarfile.open(file) as tar:
            said = json.loads(_member(tar, file, MANIFEST))
            if said.get("format") != FORMAT:
                raise BadBackup(file, f"its format is {said.get('format')!r}, not {FORMAT}")
            found = Manifest(**{k: str(said[k]) for k in ("made_at", "revision", "sha256")})
            if _hash_of(tar, file) != found.sha256:
                raise BadBackup(file, "its content is not what was written")
    except FileNotFoundError:
        raise BadBackup(file, "it is not there") from None
    except (tarfile.TarError, ValueError, KeyError, TypeError, AttributeError, EOFError, OSError) as error:
        raise BadBackup(file, f"it is no backup of Incudo ({type(error).__name__})") from None
    try:
        steps_after(found.revision)
    except LookupError:
        raise BadBackup(file, f"it was made by a newer Incudo (schema {found.revision})") from None
    return found


def _client(shop: Supervisor, program: str) -> tuple[list[str], dict[str, str]]:
    """A program of the database's own, signed in as the owner; the password in no command line."""
    url = make_url(shop.database.owner_url)
    path = shutil.which(program)
    if path is None:
        raise SystemExit(f"{program} is missing: install mariadb-client.")
    command = [path, "--no-defaults", f"--host={url.host}", f"--port={url.port}", f"--user={url.username}"]
    return command, os.environ | {"MYSQL_PWD": str(url.password)}


def _dump(shop: Supervisor, into: Path) -> None:
    command, environment = _client(shop, "mariadb-dump")
    options = ["--single-transaction", "--dump-history", "--no-tablespaces", "--skip-lock-tables", "--hex-blob"]
    database = make_url(shop.database.owner_url).database or ""
    with subprocess.Popen(
        [*command, *options, "--default-character-set=utf8mb4", database],
        env=environment,
        stdout=subprocess.PIPE,
        stderr=subprocess.PIPE,
    ) as process:
        assert process.stdout is not None  # noqa: S101 (a pipe was asked for)
        assert process.stderr is not None  # noqa: S101
        with gzip.open(into, "wb", compresslevel=6) as out:
            shutil.copyfileobj(process.stdout, out, _PIECE)
        said = process.stderr.read().decode(errors="replace")
    if process.returncode:
        raise SystemExit(f"The database could not be read: {said.strip()}")


def _load(shop: Supervisor, file: Path) -> None:
    """Everything that the empty database has is taken away and made anew from the file."""
    engine = create_engine(shop.database.owner_url, isolation_level="AUTOCOMMIT")
    name = engine.url.database
    with engine.connect() as connection:
        connection.execute(text(f"DROP DATABASE `{name}`"))
        connection.execute(text(f"CREATE DATABASE `{name}`"))
    engine.dispose()
    command, environment = _client(shop, "mariadb")
    with tarfile.open(file) as tar:
        packed = tar.extractfile(DUMP)
        assert packed is not None  # noqa: S101 (it was read when the manifest was)
        with subprocess.Popen(
            [*command, "--default-character-set=utf8mb4", str(name)],
            env=environment,
            stdin=subprocess.PIPE,
            stderr=subprocess.PIPE,
        ) as process:
            assert process.stdin is not None  # noqa: S101 (a pipe was asked for)
            assert process.stderr is not None  # noqa: S101
            with gzip.open(packed) as plain, contextlib.suppress(BrokenPipeError):
                shutil.copyfileobj(plain, process.stdin, _PIECE)
            with contextlib.suppress(BrokenPipeError):
                process.stdin.close()
            said = process.stderr.read().decode(errors="replace")
    if process.returncode:
        raise _FailedError(f"the database did not take it: {said.strip()}")


def _pack(into: Path, manifest: Manifest, dump: Path, heads: bytes) -> None:
    said = json.dumps({"format": FORMAT, **vars(manifest)}, indent=1).encode()
    with tarfile.open(into, "w") as tar:
        for name, content in ((MANIFEST, said), (HEADS, heads)):
            entry = tarfile.TarInfo(name)
            entry.size = len(content)
            tar.addfile(entry, io.BytesIO(content))
        tar.add(dump, DUMP)
    into.chmod(0o600)


def _member(tar: tarfile.TarFile, file: Path, name: str) -> bytes:
    found = tar.extractfile(name)
    if found is None:
        raise BadBackup(file, f"{name} is missing in it")
    return found.read()


def _hash(path: Path) -> str:
    with path.open("rb") as content:
        return hashlib.file_digest(content, "sha256").hexdigest()


def _hash_of(tar: tarfile.TarFile, file: Path) -> str:
    found = tar.extractfile(DUMP)
    if found is None:
        raise BadBackup(file, f"{DUMP} is missing in it")
    digest = hashlib.sha256()
    while piece := found.read(_PIECE):
        digest.update(piece)
    return digest.hexdigest()


def _write_keys(into: Path, keys: dict[str, str]) -> None:
    _write(into, json.dumps(keys, indent=1))


def _write(into: Path, content: str) -> None:
    """Readable to its owner only, from the beginning."""
    into.touch(mode=0o600)
    into.write_text(content)


def _read_keys(file: Path) -> dict[str, str]:
    keys = keys_file(file)
    try:
        said = json.loads(keys.read_text())
        return {k: str(said[k]) for k in KEYS}
    except FileNotFoundError:
        raise BadBackup(file, f"its keys are not there: put {keys.name} beside it") from None
    except (ValueError, KeyError, TypeError):
        raise BadBackup(file, f"{keys.name} does not hold its keys") from None
