"""``./incudo credential FILE``: whether the signatures of a file of credentials fit; needs no shop and no network."""

from __future__ import annotations

import json
import os
from pathlib import Path

from incudo.core.kernel.errors import Refused
from incudo.core.skills.credential import MOST_TEXT, Signer, claim, read
from incudo.launch.configuration import home
from incudo.launch.demo import say


def run_credential(file: str, key: str) -> int:
    """Say of each credential who signed it for whom. 1 unless all fit and, where a key is known, are signed by it.

    ``key`` is the ``did:key`` of the shop that should have signed; without one that of this machine's shop is taken.
    """
    try:
        with Path(file).open(encoding="utf-8", errors="replace") as opened:
            claims = [claim(d) for d in read(opened.read(MOST_TEXT + 1))]
    except OSError as error:
        say(f"{file}: cannot be read: {error.strerror}")
        return 1
    except Refused as error:
        say(f"{file}: {error}")
        return 1
    wanted = key or _key_of_this_machine()
    wrong = 0
    for c in claims:
        if not c.did:
            say("CHANGED, or never signed: it proves nothing")
            wrong += 1
            continue
        until = f", good until {c.until}" if c.until else ""
        say(f"{c.holder}: {c.name}; signed on {c.signed_at}{until}, by {c.shop}")
        if wanted and c.did != wanted:
            say(f"  NOT the key that was expected, but {c.did}")
            wrong += 1
    if not wanted:
        say("The signatures tell that nothing was changed. Whose key this is, ask the shop: " + claims[0].did)
    say(f"{len(claims) - wrong} of {len(claims)} fit; whether they are valid today, the shop's own page says: /verify")
    return 1 if wrong else 0


def _key_of_this_machine() -> str:
    """The key of the shop that is configured or kept here; empty where there is none."""
    secret = os.environ.get("INCUDO_REGISTER_KEY", "")
    kept = home() / "shop" / "instance.json"
    if not secret and kept.exists():
        secret = str(json.loads(kept.read_text())["register_key"])
    return Signer(secret).did if secret else ""
