import { useQueryClient } from "@tanstack/react-query";
import { Button } from "antd";
import { api, body, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { useMe } from "../../shared/me";
import { PickFile } from "../../shared/PickFile";
import { say } from "../../shared/say";
import { useAct } from "../../shared/useAct";
import { Refused } from "../../shared/Refused";

/** The longest side of what is sent, in pixels: the server makes it no larger. */
const LONGEST = 1280;

/** The photograph of a machine; taken with a tablet in front of it. */
export function Photo({ detail: d }: { detail: Schema["MachineDetail"] }) {
  const me = useMe();
  const client = useQueryClient();
  const { act, error, busy } = useAct();
  const send = (image: string) =>
    act(async () => {
      const found = await body(api.PUT("/api/machines/{machine}/photo", { params: { path: { machine: d.machine.id } }, body: { image } }));
      client.setQueryData(queries.machine(d.machine.id).queryKey, found);
      await client.invalidateQueries({ queryKey: ["gone"] });
    });
  const changes = me.role === "instructor" && !d.gone;
  if (!d.photo && !changes) return null;
  return (
    <figure className="machine-photo">
      {d.photo && <img src={`/api/machines/${d.machine.id}/photo?since=${d.photo}`} alt={say("Photograph of {name}", { name: d.machine.name })} />}
      {changes && (
        <figcaption className="row no-print">
          <PickFile
            label={d.photo ? say("Another photograph") : say("Add a photograph")}
            named={false}
            accept="image/jpeg,image/png,image/webp"
            onFile={(file) => void small(file).then(send)}
          />
          {d.photo && (
            <Button disabled={busy} onClick={() => void send("")}>
              {say("Remove the photograph")}
            </Button>
          )}
        </figcaption>
      )}
      <Refused words={error} />
    </figure>
  );
}

/** A picture made small here, so that a tablet sends kilobytes; one that the browser cannot read is sent as it is. */
async function small(file: File): Promise<string> {
  try {
    const picture = await createImageBitmap(file);
    const scale = Math.min(1, LONGEST / Math.max(picture.width, picture.height));
    const canvas = document.createElement("canvas");
    canvas.width = Math.round(picture.width * scale);
    canvas.height = Math.round(picture.height * scale);
    canvas.getContext("2d")?.drawImage(picture, 0, 0, canvas.width, canvas.height);
    return canvas.toDataURL("image/jpeg", 0.85).split(",")[1] ?? "";
  } catch {
    const bytes = new Uint8Array(await file.arrayBuffer());
    return btoa(Array.from(bytes, (b) => String.fromCharCode(b)).join(""));
  }
}
