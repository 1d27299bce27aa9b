"""Reading a part's file, of whichever format it is: what is kept of a part never changes, so it is read once."""

from __future__ import annotations

import json
from functools import lru_cache
from typing import Any

from incudo.core.parts.features.file import FORMAT, PartFile
from incudo.core.parts.features.part import part_of, read_part
from incudo.core.parts.project import Project, read_project


def is_of_features(data: Any) -> bool:
    """Whether a file's content is of the format with features."""
    return isinstance(data, dict) and data.get("format") == FORMAT


def read_any(data: Any) -> tuple[Project, str]:
    """A part from a file's content, and the text that is kept of it.

    Raises ``Refused`` with one error for each place in the file.
    """
    if is_of_features(data):
        file = read_part(data)
        return part_of(file).project, json.dumps(file.model_dump(mode="json"), indent=1)
    project = read_project(data)
    return project, json.dumps(project.model_dump(mode="json"), indent=1)


@lru_cache(maxsize=256)
def project_of(content: str) -> Project:
    """The part of one kept version."""
    return read_any(json.loads(content))[0]


@lru_cache(maxsize=256)
def file_of(content: str) -> PartFile | None:
    """The file of one kept version, unbuilt; none of the older format, which has cuts only."""
    data = json.loads(content)
    return read_part(data) if is_of_features(data) else None
