"""Open credentials: signed as the published rules say, and worthless as soon as one letter is another."""

from __future__ import annotations

import json
from datetime import UTC, datetime
from typing import Any

import base58
import pytest
from hypothesis import given
from hypothesis import strategies as st

from incudo.core.kernel.errors import Refused
from incudo.core.skills import credential as c

NOW = datetime(2026, 11, 29, 18, 0, tzinfo=UTC)
SHOP = c.Signer("the secret of Skerry Sound")
SKILL = c.SignedSkill(
    number="0190a5c1-0000-7000-8000-000000000001",
    holder="Kaia Brandt",
    skill="facing",
    name="Facing, Petrel",
    words="Signed by Maren Haldane at Skerry Sound, after it was shown to standard.",
    points=("The cutter is tight.", "The depth is set clear of the work."),
    signed_at=datetime(2026, 3, 4, 17, 30, tzinfo=UTC),
    until=datetime(2028, 3, 4, tzinfo=UTC),
)

#: Made by others: the example of the published cryptosuite, with the key it was signed with.
KEY = "z6MkrJVnaZkeFzdQyMZu1cgjg7k1pZZ6pvBQ7XJPt4swbTQ2"
PUBLISHED: dict[str, Any] = {
    "@context": ["https://www.w3.org/ns/credentials/v2", "https://www.w3.org/ns/credentials/examples/v2"],
    "id": "urn:uuid:58172aac-d8ba-11ed-83dd-0b3aef56cc33",
    "type": ["VerifiableCredential", "AlumniCredential"],
    "name": "Alumni Credential",
    "description": "A minimum viable example of an Alumni Credential.",
    "issuer": "https://vc.example/issuers/5678",
    "validFrom": "2023-01-01T00:00:00Z",
    "credentialSubject": {"id": "did:example:abcdefgh", "alumniOf": "The School of Examples"},
}
OPTIONS = {
    "type": "DataIntegrityProof",
    "cryptosuite": "eddsa-jcs-2022",
    "created": "2023-02-24T23:36:38Z",
    "verificationMethod": f"did:key:{KEY}#{KEY}",
    "proofPurpose": "assertionMethod",
    "@context": PUBLISHED["@context"],
}
VALUE = "z2HnFSSPPBzR36zdDgK8PbEHeXbR56YF24jwMpt3R1eHXQzJDMWS93FCzpvJpwTWd3GAVFuUfjoJdcnTMuVor51aX"


def made() -> c.Document:
    return c.credential(SKILL, "Skerry Sound", SHOP, NOW)


def paths(value: Any, at: tuple[Any, ...] = ()) -> list[tuple[Any, ...]]:
    """Where the texts of a document stand."""
    if isinstance(value, dict):
        return [p for k, x in value.items() for p in paths(x, (*at, k))]
    if isinstance(value, list):
        return [p for i, x in enumerate(value) for p in paths(x, (*at, i))]
    return [at] if isinstance(value, str) else []


def test_the_published_example_is_proven_by_its_own_key() -> None:
    """An independent direction: neither the text nor the signature is ours."""
    key = base58.b58decode(KEY[1:])
    from cryptography.hazmat.primitives.asymmetric.ed25519 import Ed25519PublicKey

    hashed = c._hashed(PUBLISHED, OPTIONS)
    Ed25519PublicKey.from_public_bytes(key[2:]).verify(base58.b58decode(VALUE[1:]), hashed)


def test_it_says_what_was_signed_and_by_which_key() -> None:
    claim = c.claim(made())
    assert claim == c.Claim(
        number=SKILL.number,
        shop="Skerry Sound",
        holder="Kaia Brandt",
        name="Facing, Petrel",
        signed_at="2026-03-04T17:30:00Z",
        until="2028-03-04T00:00:00Z",
        did=SHOP.did,
    )
    assert SHOP.did.startswith("did:key:z6Mk"), "an Ed25519 key, as its prefix tells"
    assert c.Signer("the secret of Skerry Sound").did == SHOP.did
    assert c.Signer("another secret").did != SHOP.did


def test_a_shop_without_a_secret_signs_nothing() -> None:
    with pytest.raises(ValueError, match="key"):
        c.Signer("")


def test_a_file_goes_out_and_comes_in_again() -> None:
    several = c.together_in_one([made(), made()])
    assert c.read(json.dumps(several, indent=3)) == tuple(several["verifiableCredential"])
    assert c.read(json.dumps(made())) == (made(),)


@given(st.data())
def test_one_letter_changed_anywhere_proves_nothing(data: st.DataObject) -> None:
    document = json.loads(json.dumps(made()))
    path = data.draw(st.sampled_from(paths(document)))
    inner = document
    for step in path[:-1]:
        inner = inner[step]
    old = inner[path[-1]]
    at = data.draw(st.integers(0, len(old)))
    inner[path[-1]] = old[:at] + data.draw(st.sampled_from("aZ09 ")) + old[at:]
    assert c.claim(document).did == "", path


@pytest.mark.parametrize("field", ["validUntil", "proof", "name", "issuer", "id", "credentialSubject"])
def test_what_is_left_out_proves_nothing(field: str) -> None:
    document = made()
    del document[field]
    assert c.claim(document).did == ""


def test_nobody_signs_in_the_name_of_another_key() -> None:
    forger = c.Signer("forger")
    document = made()
    unsigned = {k: v for k, v in document.items() if k != "proof"}
    forged = forger.sign(unsigned, NOW)
    assert c.claim(forged).did == "", "signed by one key, and another one named as issuer"
    own = c.credential(SKILL, "Skerry Sound", forger, NOW)
    assert c.claim(own).did == forger.did, "what they sign in their own name is told by the key"


@pytest.mark.parametrize("proof", ["eddsa", None, 7, [], {"type": "DataIntegrityProof"}, {"proofValue": "z0OIl"}])
def test_a_proof_of_another_form_proves_nothing(proof: Any) -> None:
    assert c.claim(made() | {"proof": proof}).did == ""
    if isinstance(proof, dict):
        assert c.claim(made() | {"proof": made()["proof"] | proof | {"proofValue": "z0OIl"}}).did == ""


def test_a_proof_is_written_in_base_58_and_says_so() -> None:
    value = made()["proof"]["proofValue"]
    assert c.claim(made() | {"proof": made()["proof"] | {"proofValue": f"u{value[1:]}"}}).did == ""


@pytest.mark.parametrize("named", ["Ada Quist", [], ["Ada Quist"], [[]], None])
def test_who_holds_it_is_named_in_one_way_only(named: Any) -> None:
    subject = made()["credentialSubject"] | {"identifier": named}
    assert c.claim(made() | {"credentialSubject": subject}).holder == ""


@pytest.mark.parametrize(
    "text",
    [
        "",
        "no JSON",
        "[]",
        "{}",
        "7",
        '{"verifiableCredential": []}',
        '{"verifiableCredential": [1]}',
        '{"issuer": {}, "credentialSubject": {}}',
        json.dumps(made())[:-1] + ', "name": "Boring"}',
        json.dumps(made()).replace("Kaia", "\\u0000"),
        json.dumps(made() | {"more": float("nan")}),
        json.dumps({"verifiableCredential": [made()] * (c.MOST + 1)}, separators=(",", ":")),
        " " * (c.MOST_TEXT + 1),
    ],
)
def test_what_is_no_file_of_credentials_is_refused(text: str) -> None:
    with pytest.raises(Refused) as refused:
        c.read(text)
    assert refused.value.errors[0].field == "file"


def test_the_most_that_fit_are_read() -> None:
    text = json.dumps(made())
    assert len(c.read(text + " " * (c.MOST_TEXT - len(text)))) == 1
    small = {"issuer": {}, "credentialSubject": {}, "proof": {}}
    assert len(c.read(json.dumps({"verifiableCredential": [small] * c.MOST}))) == c.MOST
