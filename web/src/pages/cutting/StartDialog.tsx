import { Modal } from "antd";
import { useQuery } from "@tanstack/react-query";
import { Link } from "react-router";
import { queries } from "../../api/queries";
import { Loading } from "../../shared/Loading";
import { Before, Come, Running } from "../../shared/StartHere";
import { say } from "../../shared/say";

/** "I am about to start", asked where one stands in the card: machine and operation are known already. */
export function StartDialog({ machine, operation, onClose }: { machine: { id: string; name: string }; operation: string; onClose: () => void }) {
  const { data, error } = useQuery(queries.start(machine.id));
  return (
    <Modal open onCancel={onClose} footer={null} width={760} title={say("I am about to start: {name}", { name: machine.name })}>
      {!data ? (
        <Loading error={error} />
      ) : (
        <div className="stack start">
          {data.closed.map((c) => (
            <p key={c} className="error">
              {c}
            </p>
          ))}
          {!data.session && <p className="caution">{say("No session is open. The instructor opens it; until then no start is enabled.")}</p>}
          {data.run ? (
            <Running page={data} run={data.run} />
          ) : data.here ? (
            <Before page={data} operation={operation} onStarted={onClose} />
          ) : (
            <Come page={data} />
          )}
          <p className="small muted">
            {say("The machine's own stop comes first. Its manual and the shop's rules decide.")}{" "}
            <Link to={`/start/${machine.id}`}>{say("The whole page of this machine")}</Link>
          </p>
        </div>
      )}
    </Modal>
  );
}
