import { Select } from "antd";
import type { Schema } from "../../api/client";
import { Sketch } from "../../instruments/Sketch";
import { Fold } from "../../shared/Fold";
import { say } from "../../shared/say";

type Fills = Schema["Fills"];
export type Chosen = { machine: string; material: string; cutter: string };

/** What stands on the bench: the machine, the material, the cutter. Calculations take their values from it. */
export function BenchBar({
  all,
  chosen,
  fills,
  onChoose,
}: {
  all: Schema["ReckonList"];
  chosen: Chosen;
  fills: Fills | undefined;
  onChoose: (change: Partial<Chosen>) => void;
}) {
  const kinds = [...new Set(all.cutters.map((c) => c.kind))];
  return (
    <section className="card pad stack reckon-bench" aria-label={say("On the bench")}>
      <div className="reckon-three">
        <label className="asked">
          {say("Machine")}
          <Select
            showSearch={{ optionFilterProp: "label" }}
            value={chosen.machine}
            onChange={(picked) => onChoose({ machine: picked })}
            options={[{ value: "", label: "none" }, ...all.machines.map((m) => ({ value: m.id, label: m.name }))]}
          />
        </label>
        <label className="asked">
          {say("Material")}
          <Select
            showSearch={{ optionFilterProp: "label" }}
            value={chosen.material}
            onChange={(picked) => onChoose({ material: picked })}
            options={[{ value: "", label: "none" }, ...all.materials.map((m) => ({ value: m.key, label: m.name }))]}
          />
        </label>
        <label className="asked">
          {say("Cutter")}
          <Select
            value={chosen.cutter}
            showSearch={{ optionFilterProp: "label" }}
            onChange={(picked) => onChoose({ cutter: picked })}
            options={[
              { value: "", label: "none" },
              ...kinds.map((k) => ({
                label: k,
                options: all.cutters.filter((c) => c.kind === k).map((c) => ({ value: c.id, label: c.name })),
              })),
            ]}
          />
        </label>
      </div>
      {fills?.chart && (
        <Fold title={fills.chart.words}>
          <Sketch of={fills.chart} high={220} />
        </Fold>
      )}
      {fills && (fills.fluid || fills.cautions.length > 0) && (
        <Fold
          title={
            <>
              {fills.fluid && <span>{say("Fluid: {fluid}. ", { fluid: fills.fluid })}</span>}
              {fills.cautions.length > 0 && (
                <b>
                  {say("{count} cautions:", { count: fills.cautions.length })} {fills.cautions[0]}
                </b>
              )}
            </>
          }
          className="reckon-cautions"
        >
          <ul>
            {fills.cautions.map((c) => (
              <li key={c}>{c}</li>
            ))}
          </ul>
          <p className="small muted">{say("The machine's manual, the shop's rules and whoever teaches you come first.")}</p>
        </Fold>
      )}
    </section>
  );
}
