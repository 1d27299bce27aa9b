"""The database as the application's account sees it."""

from __future__ import annotations

from tests.api.conftest import shop, whole_shop

__all__ = ["shop", "whole_shop"]
