"""Drawings of a version of a part, in the shop's projection."""

from __future__ import annotations

import uuid
from functools import lru_cache

from incudo.app.kernel.language import code_now, speak
from incudo.app.kernel.unit import Work, find
from incudo.app.kernel.views import View
from incudo.core.kernel.say import say
from incudo.core.parts.drawing import lay_out, render, render_outline
from incudo.core.parts.drawing.dxf import dxf_of
from incudo.core.parts.drawing.placed import Projection
from incudo.core.parts.features.versions import project_of
from incudo.store import schema as t


class DrawingView(View):
    """A drawing as SVG text."""

    version: uuid.UUID
    svg: str


def projection_of(w: Work) -> Projection:
    """Where the shop's drawings have their views."""
    return Projection(find(w, t.Shop, 1, "shop").projection)


@lru_cache(maxsize=128)
def _sheet(content: str, projection: Projection, _language: str) -> str:
    return render(lay_out(project_of(content), speak, projection))


def drawing(w: Work, version_id: uuid.UUID) -> DrawingView:
    """The drawing of one version, for the page."""
    v = find(w, t.ProjectVersion, version_id, say("project version"))
    return DrawingView(version=v.id, svg=_sheet(v.content, projection_of(w), code_now()))


def drawing_file(w: Work, version_id: uuid.UUID) -> str:
    """The drawing of one version as a file that prints by itself."""
    v = find(w, t.ProjectVersion, version_id, say("project version"))
    return render(lay_out(project_of(v.content), speak, projection_of(w)), standalone=True)


def outline(w: Work, version_id: uuid.UUID) -> str:
    """The thumbnail of one version."""
    v = find(w, t.ProjectVersion, version_id, say("project version"))
    return _outline(v.content)


@lru_cache(maxsize=256)
def _outline(content: str) -> str:
    return render_outline(project_of(content))


def drawing_dxf(w: Work, version_id: uuid.UUID) -> str:
    """The drawing of one version as DXF, in its own unit and to scale."""
    v = find(w, t.ProjectVersion, version_id, say("project version"))
    return dxf_of(project_of(v.content), speak, projection_of(w))
