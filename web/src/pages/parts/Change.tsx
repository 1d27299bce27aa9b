import { Button, Input } from "antd";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, body, newId, Refusal, wordsFor, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { Plate } from "../../instruments/Drawing";
import { Rows } from "./ProjectPage";
import { say } from "../../shared/say";

/** Changing a part: its file beside the drawing that it makes. Saved only as a new version. */
export function Change({ project, onSaved }: { project: Schema["ProjectDetail"]; onSaved: () => void }) {
  const client = useQueryClient();
  const [file, setFile] = useState(project.file);
  const [change, setChange] = useState("");
  const [id] = useState(newId);
  const [chosen, setChosen] = useState<number | null>(null);
  const checking = useMutation({
    mutationFn: (text: string) => body(api.POST("/api/project-checks", { body: { file: text } })),
  });
  const { mutate } = checking;
  useEffect(() => {
    const timer = setTimeout(() => mutate(file), 500);
    return () => clearTimeout(timer);
  }, [file, mutate]);
  useEffect(() => {
    const stay = (event: BeforeUnloadEvent) => file !== project.file && event.preventDefault();
    window.addEventListener("beforeunload", stay);
    return () => window.removeEventListener("beforeunload", stay);
  }, [file, project.file]);
  const saving = useMutation({
    mutationFn: () =>
      body(
        api.POST("/api/projects/{project}/versions", {
          params: { path: { project: project.id } },
          body: { id, after: project.version, file, change },
        }),
      ),
    onSuccess: async (fresh) => {
      client.setQueryData(queries.project(project.id).queryKey, fresh);
      await client.invalidateQueries({ queryKey: ["projects"] });
      onSaved();
    },
  });
  const failed = saving.error ?? checking.error;
  return (
    <section className="card pad stack">
      <h2>{say("Change this part")}</h2>
      <p className="muted small">{say("The drawing follows what you write. Job cards that are out keep their version.")}</p>
      <div className="project-columns">
        <div className="stack">
          <label className="asked">
            {say("Project file")}
            <Input.TextArea className="editor" spellCheck={false} maxLength={200000} value={file} onChange={(e) => setFile(e.target.value)} />
          </label>
          <label className="asked">
            {say("What is changed")}
            <Input value={change} maxLength={400} onChange={(e) => setChange(e.target.value)} />
          </label>
          {failed && (
            <div className="error" role="alert">
              {failed instanceof Refusal && failed.fields.length > 0
                ? failed.fields.map((f) => (
                    <p key={f.field + f.bound}>
                      <b>{f.field}</b>: {f.bound} {f.value && say("(given: {value})", { value: f.value })}
                    </p>
                  ))
                : wordsFor(failed)}
            </div>
          )}
          <Button
            type="primary"
            size="large"
            disabled={!checking.isSuccess || file === project.file || change.trim() === "" || saving.isPending}
            onClick={() => saving.mutate()}
          >
            {say("Save as version {version_number}", { version_number: project.version_number + 1 })}
          </Button>
        </div>
        <div className="stack">
          {checking.data && (
            <>
              <Plate svg={checking.data.svg} chosen={chosen} onChoose={setChosen} />
              <Rows rows={checking.data.rows} chosen={chosen} onChoose={setChosen} />
            </>
          )}
        </div>
      </div>
    </section>
  );
}
