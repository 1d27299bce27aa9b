"""The command that checks a file of credentials, without a shop."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from incudo.core.skills.credential import Signer
from incudo.launch.credential import run_credential
from tests.core.skills.test_credential import SHOP, made


@pytest.fixture
def file(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> Path:
    monkeypatch.setenv("INCUDO_HOME", str(tmp_path))
    monkeypatch.delenv("INCUDO_REGISTER_KEY", raising=False)
    path = tmp_path / "credentials.json"
    path.write_text(json.dumps(made()))
    return path


def test_it_says_who_signed_what_for_whom(file: Path, capsys: pytest.CaptureFixture[str]) -> None:
    assert run_credential(str(file), "") == 0
    said = capsys.readouterr().out
    assert "Kaia Brandt: Facing, Petrel" in said
    assert SHOP.did in said, "whose key it is, must be asked"
    assert run_credential(str(file), SHOP.did) == 0


def test_another_shops_key_and_a_changed_file_are_told(
    file: Path, capsys: pytest.CaptureFixture[str], monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setenv("INCUDO_REGISTER_KEY", "another secret")
    assert run_credential(str(file), "") == 1
    assert "NOT the key" in capsys.readouterr().out
    assert run_credential(str(file), Signer("another secret").did) == 1
    file.write_text(file.read_text().replace("Kaia", "Maja"))
    assert run_credential(str(file), SHOP.did) == 1
    assert "CHANGED" in capsys.readouterr().out


def test_a_file_that_is_none_or_missing_is_told(file: Path, capsys: pytest.CaptureFixture[str]) -> None:
    file.write_text("not JSON")
    assert run_credential(str(file), "") == 1
    assert "must be a file of credentials" in capsys.readouterr().out
    assert run_credential(str(file.with_name("missing.json")), "") == 1
    assert "cannot be read" in capsys.readouterr().out
