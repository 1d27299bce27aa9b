"""What a request may bring: bounds by operation, held before the body is parsed."""

from __future__ import annotations

from flask import Flask, request
from werkzeug.exceptions import RequestEntityTooLarge

from incudo.core.kernel.errors import Refused
from incudo.core.kernel.say import say
from incudo.core.kernel.wire import MOST_PARTS, read_json

#: Bytes of a body: of most operations, and of those that take a file.
MOST_BYTES, MOST_BYTES_OF_A_FILE = 64 * 1024, 2 * 1024 * 1024
#: Values in a body of most operations: a roll, a hundred acts at a rig fit in.
MOST_VALUES = 2_000
#: Operations that take a file or a whole list.
WITH_A_FILE = frozenset(
    {
        "change_bank",
        "check_credentials",
        "class_list_check",
        "class_list_take",
        "holding_change",
        "library_take",
        "machine_change",
        "machine_photo_change",
        "project_change",
        "part_draft",
        "project_check",
        "project_new",
        "skill_graph_change",
        "skill_graph_check",
        "spreadsheet_text",
        "table_check",
        "table_take",
    }
)
_EMPTY = ("GET", "HEAD", "OPTIONS")


def bounds(operation: str) -> tuple[int, int]:
    """How many bytes and how many values a body may have for an operation."""
    return (MOST_BYTES_OF_A_FILE, MOST_PARTS) if operation in WITH_A_FILE else (MOST_BYTES, MOST_VALUES)


def check() -> None:
    """Read the body, bounded, and weigh it. Raises ``Refused``, or 413 when it is too long."""
    if request.method in _EMPTY or not request.path.startswith("/api/") or request.endpoint is None:
        return
    most_bytes, most_values = bounds(request.endpoint.rpartition(".")[2])
    request.max_content_length = most_bytes
    if (request.content_length or 0) > most_bytes:
        raise RequestEntityTooLarge
    raw = request.get_data(cache=True)
    if not raw:
        return
    try:
        text = raw.decode()
    except UnicodeDecodeError:
        raise Refused.of("body", "", say("must be JSON in UTF-8")) from None
    read_json(text, most=most_values)


def install(app: Flask) -> None:
    """Put the bounds on an application, after the gate."""
    app.before_request(check)
