"""Operations of the shop's settings, its registers, and sheets to print."""

from __future__ import annotations

import uuid
from collections.abc import Iterator

from flask import Response, request

from incudo.api.kernel import gate
from incudo.api.kernel.common import GroupPath, Health, PaperQuery, RegisterPath, Words, api, attached, out, pdf, run
from incudo.app.administration import first_run, papers, ready, registers, results, shop
from incudo.app.administration import health as health_of
from incudo.app.kernel import language, spreadsheets
from incudo.core.people.roles import Role


class GroupSheetPath(GroupPath):
    sheet: results.ResultSheet


_XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"


def _blind_for() -> uuid.UUID | None:
    who = gate.who()
    return None if who.role is Role.AUDITOR else who.id


@api.get("/health", responses={200: Health})
def health() -> Response:
    """Whether the server answers and its database can be read and written."""
    run(health_of.beat)
    return out(Health(ok=True))


@api.get("/language", responses={200: Words})
def words() -> Response:
    """The language that this browser asks for, what its catalogue says for each text, and the shop's clock."""
    return out(
        Words(
            code=language.code_now(),
            messages=dict(language.messages_now()),
            spelling=dict(language.spelling_now()),
            zone=gate.manners().now().zone,
        )
    )


@api.post("/spreadsheets/text", responses={200: spreadsheets.SpreadsheetText})
def spreadsheet_text(body: spreadsheets.SpreadsheetCommand) -> Response:
    """The first sheet of a spreadsheet's file as CSV; nothing is kept."""
    return out(spreadsheets.read_spreadsheet(body))


@api.get("/first-run", responses={200: first_run.FirstRunView})
def first_run_view() -> Response:
    """Whether this installation is empty still."""
    return out(run(first_run.first_run_view))


@api.post("/first-run", responses={200: first_run.FirstRunDone})
def first_run_take(body: first_run.FirstRunCommand) -> Response:
    """Set an empty installation up, with the code that its server printed."""
    done = first_run.first_run(gate.unit(), body, request.remote_addr or "")
    gate.manners().forget()
    return out(done)


@api.get("/ready", responses={200: ready.ReadyPage})
def ready_page() -> Response:
    """What is left before a class can begin."""
    return out(run(ready.ready_page))


@api.get("/shop", responses={200: shop.ShopView})
def shop_view() -> Response:
    """Machines, instruments, delegations, schools."""
    return out(run(shop.shop_view))


@api.put("/shop", responses={200: shop.ShopView})
def shop_change(body: shop.ShopCommand) -> Response:
    """Change how the shop judges, sets up, draws and writes."""
    changed = run(lambda w: shop.shop_change(w, gate.who(), body))
    gate.manners().forget()
    return out(changed)


@api.put("/delegations", responses={200: shop.ShopView})
def delegate(body: shop.DelegationCommand) -> Response:
    """Say what an assistant may sign."""
    return out(run(lambda w: shop.delegate(w, gate.who(), body)))


@api.get("/registers/<name>", responses={200: registers.Register})
def register(path: RegisterPath, query: registers.Wanted) -> Response:
    """A page of an append-only register."""
    return out(gate.reader().run(lambda w: registers.register(w, path.name, query, _blind_for())))


@api.get("/registers/<name>/file", responses={200: None})
def register_file(path: RegisterPath) -> Response:
    """A whole register as CSV."""
    blind_for, reader = _blind_for(), gate.reader()

    def pieces() -> Iterator[str]:
        with reader.reading() as w:
            yield from registers.register_file(w, path.name, blind_for)

    response = Response(pieces(), content_type="text/csv; charset=utf-8")
    response.headers["Content-Disposition"] = f'attachment; filename="{path.name}.csv"'
    return response


@api.get("/glossary.pdf", responses={200: None})
def glossary_paper(query: PaperQuery) -> Response:
    """The words of the trade to hand out."""
    return pdf("words.pdf", run(lambda w: papers.glossary(w, query.paper)))


@api.get("/leaflet.pdf", responses={200: None})
def leaflet(query: PaperQuery) -> Response:
    """The leaflet for the wall."""
    return pdf("leaflet.pdf", run(lambda w: papers.leaflet(w, query.paper)))


@api.get("/groups/<uuid:group>/results.xlsx", responses={200: None})
def group_results(path: GroupPath) -> Response:
    """What came of a group's term: skills and parts, as a spreadsheet."""
    name, data = run(lambda w: results.results_workbook(w, path.group))
    return attached(Response(data, content_type=_XLSX), f"{name}.xlsx")


@api.get("/groups/<uuid:group>/<string:sheet>.csv", responses={200: None})
def group_table(path: GroupSheetPath) -> Response:
    """One sheet of a group's results as CSV."""
    name, text = run(lambda w: results.results_table(w, path.group, path.sheet))
    return attached(Response(text, content_type="text/csv; charset=utf-8"), f"{name}, {path.sheet}.csv")
