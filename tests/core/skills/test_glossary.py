"""The words of the trade: enough of them, each said once, and said in words that are no riddle themselves."""

from __future__ import annotations

import copy

import pytest
import yaml

from incudo import shipped
from incudo.core.kernel.errors import Refused
from incudo.core.skills.glossary import read_glossary
from incudo.launch.configuration import ROOT

FILE = yaml.safe_load((ROOT / "src/incudo/shipped/glossary.yaml").read_text())


def test_there_are_enough_words_and_each_is_one_sentence() -> None:
    terms = shipped.glossary().terms
    assert len(terms) >= 120
    for t in terms:
        assert t.means[0].isupper(), t.word
        assert t.means.endswith("."), t.word
        assert ". " not in t.means, t.word
    tips = [t.word for t in terms if t.tip]
    assert 30 <= len(tips) <= 60
    assert {"backlash", "datum", "burr", "kerf", "proud", "tram"} <= set(tips)


def test_nothing_else_called_so_is_a_word_of_its_own() -> None:
    terms = shipped.glossary().terms
    words = {t.word for t in terms}
    assert [a for t in terms for a in t.also if a in words] == []


@pytest.mark.parametrize(
    ("change", "field"),
    [
        (lambda d: d["terms"].append(d["terms"][0]), "must come before"),
        (lambda d: d["terms"].append(d["terms"][-1]), "only once"),
        (lambda d: d["terms"].append({"word": "aa", "means": "Comes too late."}), "must come before"),
        (lambda d: d["terms"][0].update(means="Short"), "terms.0.means"),
        (lambda d: d["terms"][0].update(colour="red"), "terms.0.colour"),
        (lambda d: d.update(format="another/1"), "format"),
        (lambda d: d.update(terms=[]), "terms"),
    ],
)
def test_a_glossary_that_is_none_is_refused_where_it_is_wrong(change: object, field: str) -> None:
    data = copy.deepcopy(FILE)
    change(data)  # type: ignore[operator]
    with pytest.raises(Refused, match=field):
        read_glossary(data)
