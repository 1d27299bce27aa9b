const PAPERS = [
  { file: "leaflet.pdf", name: "Leaflet for the wall", words: "The safety notice, the list before every start, what to do when something is wrong." },
  { file: "machine-labels.pdf", name: "Labels for the machines", words: "A code for each machine: pointed at with a tablet, it opens that machine's start page." },
];

/** What the shop prints, on both sheets. */
export function Papers() {
  return (
    <table className="lines">
      <tbody>
        {PAPERS.map((p) => (
          <tr key={p.file}>
            <td>
              <b className="head">{p.name}</b>
              <div className="small muted">{p.words}</div>
            </td>
            {["A4", "Letter"].map((paper) => (
              <td key={paper} className="num">
                <a className="button" href={`/api/${p.file}?paper=${paper}`} target="_blank" rel="noreferrer">
                  {paper}
                </a>
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
