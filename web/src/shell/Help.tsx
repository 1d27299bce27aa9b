import { Button } from "antd";
import { useEffect, useRef } from "react";

export function Help({ places, onClose }: { places: { name: string; key: string }[]; onClose: () => void }) {
  const dialog = useRef<HTMLDialogElement>(null);
  useEffect(() => dialog.current?.showModal(), []);
  const rows = [
    ["/", "search"],
    ...places.map((p) => [`g ${p.key}`, `go to ${p.name}`]),
    ["u", "switch inch and millimetre"],
    ["w", "show or hide the working"],
    ["Enter", "save the reading and go on"],
    ["Esc", "step back"],
    ["?", "this list"],
  ];
  return (
    <dialog ref={dialog} className="sheet" onClose={onClose} aria-label="Shortcuts">
      <div className="stack">
        <h2>Shortcuts</h2>
        <p className="muted small">They rest while you type in a field. Enter never signs, scraps or starts anything.</p>
        <table className="lines">
          <tbody>
            {rows.map(([key, what]) => (
              <tr key={key}>
                <td>
                  <kbd>{key}</kbd>
                </td>
                <td>{what}</td>
              </tr>
            ))}
          </tbody>
        </table>
        <p className="small">
          Incudo never replaces supervision. The machine's manual, the shop's own rules and local law come first; a qualified person decides.
        </p>
        <Button  onClick={() => dialog.current?.close()}>
          Close
        </Button>
      </div>
    </dialog>
  );
}
