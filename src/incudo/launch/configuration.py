"""Ports, folders and secrets of one running instance, kept in its own folder."""

from __future__ import annotations

import json
import os
import secrets
from dataclasses import asdict, dataclass
from pathlib import Path

ROOT = Path(__file__).resolve().parents[3]
WEB = ROOT / "web" / "dist"


@dataclass(frozen=True)
class Instance:
    """One instance: where it keeps its data, its ports, its secrets."""

    folder: Path
    web_port: int
    database_port: int
    owner_password: str
    app_password: str
    secret: str
    panel_port: int
    register_key: str
    device_key: str

    @property
    def heads(self) -> Path:
        """Where the heads of the register are written."""
        return self.folder / "register-heads.jsonl"

    @classmethod
    def at(cls, folder: Path, web_port: int, database_port: int, panel_port: int = 0) -> Instance:
        """The instance of a folder; its secrets are made once and kept readable to its owner only.

        Ports given in the environment (INCUDO_PORT, INCUDO_PANEL_PORT, INCUDO_DATABASE_PORT) win.
        """
        folder.mkdir(parents=True, exist_ok=True)
        file = folder / "instance.json"
        kept = json.loads(file.read_text()) if file.exists() else {}
        kept.setdefault("web_port", web_port)
        kept.setdefault("database_port", database_port)
        kept.setdefault("panel_port", panel_port or int(kept["web_port"]) + 1)
        for name in ("owner_password", "app_password", "secret", "register_key", "device_key"):
            kept.setdefault(name, secrets.token_urlsafe(24))
        kept["web_port"] = int(os.environ.get("INCUDO_PORT", kept["web_port"]))
        kept["panel_port"] = int(os.environ.get("INCUDO_PANEL_PORT", kept["panel_port"]))
        kept["database_port"] = int(os.environ.get("INCUDO_DATABASE_PORT", kept["database_port"]))
        instance = cls(folder=folder, **kept)
        content = {k: v for k, v in asdict(instance).items() if k != "folder"}
        file.touch(mode=0o600)
        file.write_text(json.dumps(content, indent=1))
        return instance


def home() -> Path:
    """Where instances live: INCUDO_HOME, else .incudo beside the program."""
    return Path(os.environ.get("INCUDO_HOME", ROOT / ".incudo"))
