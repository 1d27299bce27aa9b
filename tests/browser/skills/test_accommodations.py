"""What was agreed with a student, in the real interface."""

from __future__ import annotations

from collections.abc import Callable

from incudo.demo.story import key
from tests.browser.page import Page


def test_who_teaches_reads_what_was_agreed_and_nobody_else(browser: Callable[..., Page]) -> None:
    boss = browser("haldane")
    boss.go(f"/skills/{key('person', 'orla')}")
    boss.press("Add accommodations")
    boss.type(".ant-modal textarea", "Larger print on every sheet.")
    boss.press("Save", within=".ant-modal")
    boss.sees("Accommodations", "Larger print on every sheet.", "visible to instructors and assistants only")
    assistant = browser("dacosta")
    assistant.go("/floor")
    assistant.press("Accommodations for Kaia Lund, Orla Finnis")
    assistant.sees("Larger print on every sheet.")
    assistant.go(f"/assess/{key('person', 'orla')}")
    assistant.sees("Larger print on every sheet.")
    assert not assistant.shown("[aria-label='Change accommodations']")
    orla = browser("orla")
    orla.go(f"/skills/{key('person', 'orla')}")
    orla.sees("My skills", "General safety")
    assert "Larger print" not in orla.text()
