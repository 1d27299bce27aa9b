"""Operations of the shop: machines, workholding, tags, the stop, cutters, materials, the crib."""

from __future__ import annotations

from typing import cast

from flask import Response, request

from incudo.api.kernel import gate
from incudo.api.kernel.common import (
    SLOW,
    CutterPath,
    DevicePath,
    GaugePath,
    IssuePath,
    MachinePath,
    PaperQuery,
    TablePath,
    TagPath,
    api,
    out,
    pdf,
    polled,
    run,
)
from incudo.app.administration import papers
from incudo.app.kernel.views import Named
from incudo.app.people import accounts
from incudo.app.shop import (
    crib,
    devices,
    gauge_checks,
    gone,
    machines,
    new_cutters,
    new_gauges,
    new_machines,
    photos,
    tables,
    tags,
    workholding,
)
from incudo.app.shop import stock_page as stock_page_room
from incudo.store.kernel.changes import ALL, SHOP


@api.get("/machine-labels.pdf", responses={200: None})
def machine_labels(query: PaperQuery) -> Response:
    """Labels with the code that leads to each machine's start page."""
    return pdf("machine-labels.pdf", run(lambda w: papers.machine_labels(w, query.paper, request.host_url)))


@api.get("/cutter-labels.pdf", responses={200: None})
def cutter_labels(query: PaperQuery) -> Response:
    """Labels with the code that leads to each cutter's page, and where it lies."""
    return pdf("cutter-labels.pdf", run(lambda w: papers.cutter_labels(w, query.paper, request.host_url)))


@api.get("/gauge-labels.pdf", responses={200: None})
def gauge_labels(query: PaperQuery) -> Response:
    """Labels with the code that leads to each gauge's page, and the day of its next check."""
    return pdf("gauge-labels.pdf", run(lambda w: papers.gauge_labels(w, query.paper, request.host_url)))


@api.get("/crib", responses={200: crib.CribPage})
def crib_page() -> Response:
    """The crib's counter."""
    return polled(lambda w: crib.crib_page(w, gate.who()), [ALL], SLOW)


@api.post("/crib/issues", responses={200: crib.CribPage})
def issue_thing(body: crib.IssueCommand) -> Response:
    """Hand a cutter or a gauge out."""
    return out(run(lambda w: crib.issue(w, gate.who(), body)))


@api.post("/crib/issues/<uuid:issue>/return", responses={200: crib.CribPage})
def give_back(path: IssuePath, body: crib.GiveBackCommand) -> Response:
    """It came back, and how."""
    return out(run(lambda w: crib.give_back(w, gate.who(), path.issue, body)))


@api.get("/stock", responses={200: stock_page_room.StockPage})
def stock_page() -> Response:
    """The registers of cutters and materials."""
    return out(run(stock_page_room.stock_page))


@api.get("/cutter-kinds", responses={200: new_cutters.CutterKinds})
def cutter_kinds() -> Response:
    """What cutters can be entered as."""
    return out(new_cutters.cutter_kinds())


@api.post("/cutters", responses={200: stock_page_room.StockPage})
def add_cutters(body: new_cutters.NewCuttersCommand) -> Response:
    """Cutters of one kind in some sizes: all of them or none."""
    return out(run(lambda w: new_cutters.add_cutters(w, body)))


@api.put("/cutters/<uuid:cutter>", responses={200: stock_page_room.StockPage})
def cutter_change(path: CutterPath, body: stock_page_room.CutterChange) -> Response:
    """A cutter's real diameter, number, place."""
    return out(run(lambda w: stock_page_room.cutter_change(w, path.cutter, body)))


@api.get("/tables/<string:table>.csv", responses={200: None})
def table_file(path: TablePath) -> Response:
    """A table as CSV."""
    text = run(lambda w: tables.table_file(w, path.table))
    name = f'attachment; filename="{path.table}.csv"'
    return Response(text, content_type="text/csv; charset=utf-8", headers={"Content-Disposition": name})


@api.post("/tables/<string:table>/check", responses={200: tables.TableReport})
def table_check(path: TablePath, body: tables.TableText) -> Response:
    """What every line of a file would do; keeps nothing."""
    return out(run(lambda w: tables.table_check(w, path.table, body)))


@api.put("/tables/<string:table>", responses={200: tables.TableReport})
def table_take(path: TablePath, body: tables.TableText) -> Response:
    """Take a file in, all of it or nothing."""
    return out(run(lambda w: tables.table_take(w, path.table, body)))


@api.get("/tags", responses={200: tags.TagList})
def tag_list() -> Response:
    """What is closed, and the stop that is in force."""
    return polled(tags.tag_list, [SHOP], SLOW)


@api.post("/tags", responses={200: tags.TagList})
def tag_out(body: tags.TagCommand) -> Response:
    """Close a faulty machine or gauge."""
    return out(run(lambda w: tags.tag_out(w, gate.who(), body)))


@api.post("/tags/<uuid:tag>/clear", responses={200: tags.TagList})
def clear_tag(path: TagPath, body: tags.ClearTagCommand) -> Response:
    """The fault is gone."""
    accounts.confirm_pin(gate.unit(), gate.who(), body.pin, gate.device())
    return out(run(lambda w: tags.clear_tag(w, gate.who(), path.tag, body)))


@api.get("/devices", responses={200: devices.DeviceList})
def device_list() -> Response:
    """Interlocks and walls that may talk to Incudo."""
    return out(run(devices.device_list))


@api.post("/devices", responses={200: devices.DeviceList})
def add_device(body: devices.NewDeviceCommand) -> Response:
    """Let a device in; its key is in the answer, this once."""
    accounts.confirm_pin(gate.unit(), gate.who(), body.pin, gate.device())
    return out(run(lambda w: devices.add_device(w, body)))


@api.post("/devices/<uuid:device>/off", responses={200: devices.DeviceList})
def switch_off_device(path: DevicePath, body: devices.DeviceOffCommand) -> Response:
    """Let a device in no more."""
    accounts.confirm_pin(gate.unit(), gate.who(), body.pin, gate.device())
    return out(run(lambda w: devices.switch_off(w, path.device)))


@api.post("/stops", responses={200: tags.TagList})
def stop_all(body: tags.StopCommand) -> Response:
    """Stop spindles and feeds of all machines."""
    return out(run(lambda w: tags.stop_all(w, gate.who(), body)))


@api.post("/stops/clear", responses={200: tags.TagList})
def clear_stop(body: tags.ClearStopCommand) -> Response:
    """Lift the stop of all machines."""
    accounts.confirm_pin(gate.unit(), gate.who(), body.pin, gate.device())
    return out(run(lambda w: tags.clear_stop(w, gate.who(), body)))


@api.post("/incidents", responses={200: Named})
def report_incident(body: tags.IncidentCommand) -> Response:
    """Write down an incident or a near miss."""
    return out(run(lambda w: tags.report_incident(w, gate.who(), body)))


@api.get("/machine-kinds", responses={200: new_machines.MachineKinds})
def machine_kinds() -> Response:
    """The kinds of machine that one can be entered like."""
    return out(run(new_machines.machine_kinds))


@api.post("/machines", responses={200: machines.MachineDetail})
def add_machine(body: new_machines.NewMachineCommand) -> Response:
    """A machine, as it was walked round."""
    return out(run(lambda w: new_machines.add_machine(w, body)))


@api.get("/gauge-kinds", responses={200: new_gauges.GaugeKinds})
def gauge_kinds() -> Response:
    """The kinds of gauge with what they usually are."""
    return out(run(new_gauges.gauge_kinds))


@api.post("/gauges", responses={200: new_gauges.GaugeAdded})
def add_gauge(body: new_gauges.GaugeCommand) -> Response:
    """A gauge."""
    return out(run(lambda w: new_gauges.add_gauge(w, body)))


@api.get("/gauges/<uuid:gauge>/checks", responses={200: gauge_checks.GaugeCheckPage})
def gauge_check_page(path: GaugePath) -> Response:
    """A gauge and its checks."""
    return out(run(lambda w: gauge_checks.gauge_check_page(w, path.gauge)))


@api.post("/gauges/<uuid:gauge>/checks/look", responses={200: gauge_checks.CheckedView})
def gauge_check_look(path: GaugePath, body: gauge_checks.CheckEntry) -> Response:
    """What readings on blocks say about a gauge; keeps nothing."""
    return out(run(lambda w: gauge_checks.look(w, path.gauge, body)))


@api.post("/gauges/<uuid:gauge>/checks", responses={200: gauge_checks.GaugeCheckPage})
def keep_gauge_check(path: GaugePath, body: gauge_checks.GaugeCheckCommand) -> Response:
    """Keep a check of a gauge."""
    accounts.confirm_pin(gate.unit(), gate.who(), body.pin, gate.device())
    return out(run(lambda w: gauge_checks.keep(w, gate.who(), path.gauge, body)))


@api.get("/machines/<uuid:machine>", responses={200: machines.MachineDetail})
def machine_detail(path: MachinePath) -> Response:
    """A machine of the register."""
    return out(run(lambda w: machines.machine_detail(w, path.machine)))


@api.get("/machines/<uuid:machine>/photo", responses={200: None})
def machine_photo(path: MachinePath) -> Response:
    """The photograph of a machine."""
    response = Response(run(lambda w: photos.photo(w, path.machine)), content_type="image/jpeg")
    response.headers["Cache-Control"] = "private, no-cache"
    response.add_etag()
    return cast(Response, response.make_conditional(request))


@api.put("/machines/<uuid:machine>/photo", responses={200: machines.MachineDetail})
def machine_photo_change(path: MachinePath, body: photos.PhotoCommand) -> Response:
    """Another photograph of a machine, or none."""
    content = photos.small(body)
    return out(run(lambda w: photos.change_photo(w, gate.who(), path.machine, content)))


@api.put("/machines/<uuid:machine>", responses={200: machines.MachineDetail})
def machine_change(path: MachinePath, body: machines.MachineChange) -> Response:
    """Change a machine's entry."""
    return out(run(lambda w: machines.machine_change(w, path.machine, body)))


@api.post("/machines/<uuid:machine>/notes", responses={200: machines.MachineDetail})
def machine_note(path: MachinePath, body: machines.NoteCommand) -> Response:
    """Say what was done to a machine: head or vise moved, wear, service."""
    return out(run(lambda w: machines.machine_note(w, gate.who(), path.machine, body)))


@api.get("/workholding", responses={200: workholding.HoldingList})
def holding_list() -> Response:
    """Vises, parallels, clamps."""
    return out(run(workholding.holding_list))


@api.post("/workholding/read", responses={200: workholding.HoldingRead})
def holding_read(body: workholding.HoldingFile) -> Response:
    """What stands in a file of workholding; nothing is kept."""
    return out(workholding.holding_read(body))


@api.put("/workholding", responses={200: workholding.HoldingList})
def holding_change(body: workholding.HoldingChange) -> Response:
    """Add or change an entry of the workholding register."""
    return out(run(lambda w: workholding.holding_change(w, body)))


@api.get("/gone", responses={200: gone.GoneList})
def gone_list() -> Response:
    """What has left the shop, and who changed what of it."""
    return out(run(gone.gone_list))


@api.post("/gone", responses={200: gone.GoneList})
def gone_change(body: gone.GoneCommand) -> Response:
    """A machine, a gauge or something that holds work has left the shop, or is back."""
    return out(run(lambda w: gone.gone_change(w, gate.who(), body)))
