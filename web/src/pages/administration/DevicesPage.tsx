import { useQuery, useQueryClient } from "@tanstack/react-query";
import { Button, Input, Select } from "antd";
import { useState } from "react";
import { api, body, newId, type Schema } from "../../api/client";
import { queries } from "../../api/queries";
import { Lines } from "../../shared/Lines";
import { Waiting } from "../../shared/Loading";
import { useMe } from "../../shared/me";
import { PinDialog } from "../../shared/PinDialog";
import { say } from "../../shared/say";

type Device = Schema["DeviceView"];
type Purpose = Schema["Purpose"];

const PURPOSES: Record<Purpose, { name: string; words: string }> = {
  wall: { name: say("wall"), words: say("Shows who is where and who waits, never a failure or a withdrawal. It can change nothing.") },
  interlock: { name: say("interlock"), words: say("Says whether a spindle turns, and is told whether a start is enabled. It is no safety system.") },
};

/** What may talk to Incudo without a person: walls that show the shop, and interlocks. */
export default function DevicesPage() {
  const { data, error } = useQuery(queries.devices());
  const client = useQueryClient();
  const mayChange = useMe().role === "instructor";
  const [off, setOff] = useState<Device | null>(null);
  const [made, setMade] = useState<{ key: string; purpose: Purpose } | null>(null);
  const keep = (list: Schema["DeviceList"]) => client.setQueryData(queries.devices().queryKey, { ...list, key: "" });
  if (!data) return <Waiting error={error} />;
  return (
    <main className="page stack">
      <h1>{say("Devices")}</h1>
      {made && <Key made={made} />}
      <section className="card">
        <Lines
          rows={data.devices}
          rowKey={(d) => d.id}
          columns={[
            { key: "name", title: say("Device"), render: (_, d) => <b>{d.name}</b> },
            { key: "purpose", title: say("For"), render: (_, d) => PURPOSES[d.purpose].name },
            { key: "what", title: say("What it may do"), render: (_, d) => <span className="small muted">{PURPOSES[d.purpose].words}</span> },
            {
              key: "off",
              title: "",
              className: "num",
              render: (_, d) =>
                !d.active ? (
                  <span className="needs">{say("switched off")}</span>
                ) : (
                  mayChange && (
                    <Button aria-label={say("Switch off, {name}", { name: d.name })} onClick={() => setOff(d)}>
                      {say("Switch off")}
                    </Button>
                  )
                ),
            },
          ]}
        />
      </section>
      {mayChange && (
        <AddDevice
          onMade={(list, purpose) => {
            keep(list);
            setMade({ key: list.key, purpose });
          }}
        />
      )}
      {off && (
        <PinDialog
          title={say("Switch off {name}", { name: off.name })}
          act={say("Switch off")}
          danger
          onClose={() => setOff(null)}
          onAct={async (pin) => {
            keep(await body(api.POST("/api/devices/{device}/off", { params: { path: { device: off.id } }, body: { pin } })));
          }}
        >
          <p>{say("Its key no longer works. An interlock that is not answered alarms and enables no start.")}</p>
        </PinDialog>
      )}
    </main>
  );
}

function Key({ made }: { made: { key: string; purpose: Purpose } }) {
  const apart = made.key.replace(/(.{4})(?=.)/g, "$1 ");
  return (
    <section className="card pad stack" role="status">
      <h2>{say("The key, shown this once")}</h2>
      <p className="key" translate="no">
        {apart}
      </p>
      <p>
        {made.purpose === "wall"
          ? say("On the wall's own computer open {address} and type it there; spaces do not matter.", { address: `${location.origin}/wall` })
          : say("Put it into the device's own settings, without the spaces.")}
      </p>
    </section>
  );
}

function AddDevice({ onMade }: { onMade: (list: Schema["DeviceList"], purpose: Purpose) => void }) {
  const [name, setName] = useState("");
  const [purpose, setPurpose] = useState<Purpose>("wall");
  const [id, setId] = useState(newId);
  const [asking, setAsking] = useState(false);
  return (
    <section className="card pad stack">
      <h2>{say("Add a device")}</h2>
      <div className="row">
        <label className="asked">
          {say("Its name")}
          <Input maxLength={80} value={name} onChange={(e) => setName(e.target.value)} />
        </label>
        <label className="asked">
          {say("What it is for")}
          <Select
            value={purpose}
            onChange={setPurpose}
            options={(["wall", "interlock"] as const).map((p) => ({ value: p, label: PURPOSES[p].name }))}
          />
        </label>
        <Button type="primary" disabled={name.trim().length < 2} onClick={() => setAsking(true)}>
          {say("Make a key")}
        </Button>
      </div>
      <p className="small muted">{PURPOSES[purpose].words}</p>
      {asking && (
        <PinDialog
          title={say("Add {name}", { name: name.trim() })}
          act={say("Make a key")}
          onClose={() => setAsking(false)}
          onAct={async (pin) => {
            onMade(await body(api.POST("/api/devices", { body: { id, name: name.trim(), purpose, pin } })), purpose);
            setName("");
            setId(newId());
          }}
        >
          <p>{PURPOSES[purpose].words}</p>
        </PinDialog>
      )}
    </section>
  );
}
