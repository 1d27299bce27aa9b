"""A signed skill as an open credential: a file that anybody can check without asking this shop.

Its form is the one of Open Badges 3.0 on the W3C's Verifiable Credentials 2.0. It is signed as the W3C's
"Data Integrity EdDSA Cryptosuites" say for ``eddsa-jcs-2022``: canonical JSON (RFC 8785), SHA-256, Ed25519. The key is
named by a ``did:key``, so that the file itself says by which key it was signed; whose key that is, it cannot prove.
"""

from __future__ import annotations

import hashlib
import json
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any

import base58
import rfc8785
from cryptography.exceptions import InvalidSignature
from cryptography.hazmat.primitives import hashes
from cryptography.hazmat.primitives.asymmetric.ed25519 import Ed25519PrivateKey, Ed25519PublicKey
from cryptography.hazmat.primitives.kdf.hkdf import HKDF

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.say import say
from incudo.core.kernel.wire import unwritable, weigh

CONTEXTS = ("https://www.w3.org/ns/credentials/v2", "https://purl.imsglobal.org/spec/ob/v3p0/context-3.0.3.json")
SUITE = "eddsa-jcs-2022"
#: Credentials in one file, and the characters of one file, that are looked at.
MOST, MOST_TEXT = 200, 400_000
_MULTICODEC = b"\xed\x01"
_DID = "did:key:"
_URN = "urn:uuid:"

Document = dict[str, Any]


@dataclass(frozen=True)
class SignedSkill:
    """What is said of somebody, in the words of the reader. ``number`` is the id of the sign-off, ``skill`` the
    skill's key; ``name`` is what is signed, ``words`` who signed it, ``points`` what was shown.
    """

    number: str
    holder: str
    skill: str
    name: str
    words: str
    points: tuple[str, ...]
    signed_at: datetime
    until: datetime | None


@dataclass(frozen=True)
class Claim:
    """What a credential says, and the key that proves it; ``did`` is empty where nothing does."""

    number: str
    shop: str
    holder: str
    name: str
    signed_at: str
    until: str
    did: str


class Signer:
    """The key with which a shop signs, made from its secret: the same secret gives the same key."""

    def __init__(self, secret: str) -> None:
        """Raises ``ValueError`` without a secret: everybody could sign with that key."""
        if not secret:
            raise ValueError("a shop without a key signs nothing")
        seed = HKDF(hashes.SHA256(), 32, salt=None, info=b"incudo credentials 1").derive(secret.encode())
        self._key = Ed25519PrivateKey.from_private_bytes(seed)

    @property
    def did(self) -> str:
        """The name of the public key, as ``did:key``."""
        return f"{_DID}z{base58.b58encode(_MULTICODEC + self._key.public_key().public_bytes_raw()).decode()}"

    def sign(self, document: Document, at: datetime) -> Document:
        """The same document with its proof, made at ``at``."""
        did = self.did
        proof: Document = {
            "type": "DataIntegrityProof",
            "cryptosuite": SUITE,
            "created": _moment(at),
            "verificationMethod": f"{did}#{did.removeprefix(_DID)}",
            "proofPurpose": "assertionMethod",
            "@context": document["@context"],
        }
        value = base58.b58encode(self._key.sign(_hashed(document, proof))).decode()
        return document | {"proof": proof | {"proofValue": f"z{value}"}}


def credential(signed: SignedSkill, shop: str, signer: Signer, now: datetime) -> Document:
    """One skill, signed by the shop's key. ``until`` is left out where the skill does not lapse by itself."""
    document: Document = {
        "@context": list(CONTEXTS),
        "id": f"{_URN}{signed.number}",
        "type": ["VerifiableCredential", "OpenBadgeCredential"],
        "name": signed.name,
        "issuer": {"id": signer.did, "type": ["Profile"], "name": shop},
        "validFrom": _moment(signed.signed_at),
        "credentialSubject": {
            "type": ["AchievementSubject"],
            "identifier": [
                {"type": "IdentityObject", "hashed": False, "identityHash": signed.holder, "identityType": "name"}
            ],
            "achievement": {
                "id": f"{signer.did}#{signed.skill}",
                "type": ["Achievement"],
                "name": signed.name,
                "description": signed.words,
                "criteria": {"narrative": "\n".join(f"- {p}" for p in signed.points)},
            },
        },
    }
    if signed.until is not None:
        document["validUntil"] = _moment(signed.until)
    return signer.sign(document, now)


def together_in_one(credentials: Iterable[Document]) -> Document:
    """Several credentials in one file; each keeps its own proof."""
    return {
        "@context": [CONTEXTS[0]],
        "type": ["VerifiablePresentation"],
        "verifiableCredential": list(credentials),
    }


def read(text: str) -> tuple[Document, ...]:
    """The credentials of a file: one alone, or several together.

    Raises ``Refused`` for what is no such file, is too long, or names something twice.
    """
    if len(text) > MOST_TEXT:
        raise Refused.of("file", "", say("must have at most {most} characters", most=MOST_TEXT))
    weigh(text, "file")
    try:
        found = json.loads(text, object_pairs_hook=_once, parse_constant=_refuse)
    except (ValueError, RecursionError):
        raise Refused.of("file", text[:40], _not_one()) from None
    if not isinstance(found, dict) or next(unwritable(found), None) is not None:
        raise Refused.of("file", text[:40], _not_one())
    several = found.get("verifiableCredential", [found])
    documents = several if isinstance(several, list) else [several]
    if not documents or not all(_looks_like_one(d) for d in documents):
        raise Refused.of("file", text[:40], _not_one())
    if len(documents) > MOST:
        raise Refused.of("file", "", say("must have at most {most} credentials", most=MOST))
    return tuple(documents)


def claim(document: Document) -> Claim:
    """What a credential says. It says nothing where its proof does not fit: then all but ``did`` is as it stands."""
    subject, issuer = _inner(document, "credentialSubject"), _inner(document, "issuer")
    names = subject.get("identifier")
    first = names[0] if isinstance(names, list) and names and isinstance(names[0], dict) else {}
    return Claim(
        number=_text(document.get("id")).removeprefix(_URN),
        shop=_text(issuer.get("name")),
        holder=_text(first.get("identityHash")),
        name=_text(document.get("name")),
        signed_at=_text(document.get("validFrom")),
        until=_text(document.get("validUntil")),
        did=_proven_by(document, _text(issuer.get("id"))),
    )


def _proven_by(document: Document, issuer: str) -> str:
    """The key that signed it, as ``did:key``; empty unless it is the issuer's and the proof fits."""
    proof = _inner(document, "proof")
    given = (proof.get("type"), proof.get("cryptosuite"), proof.get("proofPurpose"), proof.get("@context"))
    if given != ("DataIntegrityProof", SUITE, "assertionMethod", document.get("@context")):
        return ""
    if proof.get("verificationMethod") != f"{issuer}#{issuer.removeprefix(_DID)}" or not issuer.startswith(f"{_DID}z"):
        return ""
    unsigned = {k: v for k, v in document.items() if k != "proof"}
    options = {k: v for k, v in proof.items() if k != "proofValue"}
    try:
        key = base58.b58decode(issuer.removeprefix(f"{_DID}z"))
        value = _text(proof.get("proofValue"))
        if key[:2] != _MULTICODEC or value[:1] != "z":
            return ""
        Ed25519PublicKey.from_public_bytes(key[2:]).verify(base58.b58decode(value[1:]), _hashed(unsigned, options))
    except (InvalidSignature, ValueError):
        return ""
    return issuer


def _hashed(document: Document, options: Document) -> bytes:
    """What is signed. Raises ``ValueError`` for numbers that canonical JSON has no form for."""
    return b"".join(hashlib.sha256(rfc8785.dumps(x)).digest() for x in (options, document))


def _looks_like_one(document: object) -> bool:
    return isinstance(document, dict) and {"issuer", "credentialSubject", "proof"} <= set(document)


def _inner(document: Document, name: str) -> Document:
    found = document.get(name)
    return found if isinstance(found, dict) else {}


def _text(value: object) -> str:
    return value[:200] if isinstance(value, str) else ""


def _moment(at: datetime) -> str:
    return f"{at.astimezone(UTC):%Y-%m-%dT%H:%M:%SZ}"


def _once(pairs: list[tuple[str, Any]]) -> Document:
    found = dict(pairs)
    if len(found) != len(pairs):
        raise ValueError("a name appears twice")
    return found


def _refuse(constant: str) -> Any:
    raise ValueError(constant)


def _not_one() -> str:
    return say("must be a file of credentials, as this shop or another one gave it out")
