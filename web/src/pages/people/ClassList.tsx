import { PickFile } from "../../shared/PickFile";
import { PinDialog } from "../../shared/PinDialog";
import { LIST_FILES, listText } from "../../shared/spreadsheet";
import { Slips } from "./Slips";
import { Dialog } from "../../shared/Dialog";
import { AutoComplete, Button, Checkbox, Input } from "antd";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, body, newId, type Schema } from "../../api/client";
import { useAct } from "../../shared/useAct";
import { Lines } from "../../shared/Lines";
import { say, sayMany } from "../../shared/say";
import { Refused } from "../../shared/Refused";

type Report = Schema["ClassListReport"];

/** A class list from a file: a report per line first, then imported. */
export function ClassList({ groups, onClose }: { groups: readonly string[]; onClose: (group: string) => void }) {
  const client = useQueryClient();
  const { act, error, busy } = useAct();
  const [id] = useState(newId);
  const [group, setGroup] = useState("");
  const [text, setText] = useState("");
  const [report, setReport] = useState<Report | null>(null);
  const [skip, setSkip] = useState(false);
  const [asked, setAsked] = useState(false);
  const taken = (report?.imported ?? 0) > 0;
  const close = () => onClose(report?.group_id ?? "");
  const check = () => act(async () => setReport(await body(api.POST("/api/class-lists/check", { body: { group, text } }))));
  const take = async (pin: string) => {
    setReport(await body(api.POST("/api/class-lists", { body: { id, group, text, skip_faulty: skip, pin } })));
    await client.invalidateQueries();
  };
  const read = (file: File) =>
    act(async () => {
      setReport(null);
      setText(await listText(file));
    });
  return (
    <Dialog title={say("Import a class list")} wide onClose={close}>
      <div className="stack">
        {!taken && (
          <>
            <p className="small muted">
              {say(
                'One name in each line, or a spreadsheet whose first line names the columns: "name" and, if you have them, "login". Nothing is imported before you have seen the report.',
              )}
            </p>
            <div className="row">
              <label className="asked grow">
                {say("Group")}
                <AutoComplete
                  value={group}
                  options={groups.map((g) => ({ value: g }))}
                  showSearch={{ filterOption: true }}
                  onChange={(picked: string) => {
                    setGroup(picked);
                    setReport(null);
                  }}
                />
              </label>
              <PickFile label={say("File")} accept={LIST_FILES} onFile={(file) => void read(file)} />
            </div>
            <label className="asked">
              {say("Or paste it here")}
              <Input.TextArea
                rows={5}
                placeholder={say("name,login\nAda Quist,ada")}
                value={text}
                onChange={(e) => {
                  setText(e.target.value);
                  setReport(null);
                }}
              />
            </label>
          </>
        )}
        {report && <ReportLines report={report} taken={taken} />}
        {report && report.faulty > 0 && !taken && (
          <Checkbox className="row" checked={skip} onChange={(e) => setSkip(e.target.checked)}>
            {say("import the {good} good lines and leave the others out", { good: report.good })}
          </Checkbox>
        )}
        <Refused words={error} />
        <div className="row">
          <Button size="large" className="grow" onClick={close}>
            {taken ? say("Done") : say("Cancel")}
          </Button>
          {!taken && !report && (
            <Button
              type="primary"
              size="large"
              className="grow"
              disabled={busy || group.trim().length < 2 || !text.trim()}
              onClick={() => void check()}
            >
              {say("Preview")}
            </Button>
          )}
          {!taken && report && (
            <Button
              type="primary"
              size="large"
              className="grow"
              disabled={busy || report.good === 0 || (report.faulty > 0 && !skip)}
              onClick={() => setAsked(true)}
            >
              {say("Import {good} into {group}", { good: report.good, group: report.group })}
            </Button>
          )}
          {taken && (
            <Button size="large" className="grow" onClick={() => window.print()}>
              {say("Print the slips")}
            </Button>
          )}
        </div>
        {taken && (
          <Slips
            slips={(report?.lines ?? []).flatMap((x) => (x.code_until ? [{ name: x.name, login: x.login, code: x.code, until: x.code_until }] : []))}
          />
        )}
        {asked && report && (
          <PinDialog
            title={say("Import {good} into {group}", { good: report.good, group: report.group })}
            act={say("Import")}
            onClose={() => setAsked(false)}
            onAct={take}
          >
            <p>{say("Each of them gets a slip with a code, to choose a password of their own with.")}</p>
          </PinDialog>
        )}
      </div>
    </Dialog>
  );
}

function ReportLines({ report, taken }: { report: Report; taken: boolean }) {
  return (
    <>
      <p>
        {taken
          ? sayMany(
              "{count} student is in {group} now. Each code is shown only here: print the slips or copy them.",
              "{count} students are in {group} now. Each code is shown only here: print the slips or copy them.",
              report.imported,
              { group: report.group },
            )
          : say("{good} good, {faulty} with faults.", { good: report.good, faulty: report.faulty })}
        {report.new_group && !taken && say(" {group} is a new group.", { group: report.group })}
      </p>
      <div className="class-lines">
        <Lines
          rows={report.lines}
          rowKey={(x) => x.number}
          showHeader={false}
          columns={[
            { key: "0", title: "", className: "num muted", render: (_, x) => x.number },
            { key: "1", title: "", render: (_, x) => x.name },
            { key: "2", title: "", render: (_, x) => x.login },
            {
              key: "3",
              title: "",
              render: (_, x) =>
                x.faults.length > 0 ? (
                  <span className="needs wrap">{x.faults.join("; ")}</span>
                ) : taken ? (
                  <code translate="no">{x.code}</code>
                ) : (
                  "good"
                ),
            },
          ]}
        />
      </div>
    </>
  );
}
