import { Button } from "antd";
import { say } from "../shared/say";
const KEYS = ["7", "8", "9", "4", "5", "6", "1", "2", "3", "0", ".", "⌫"];

/** A large keypad for fingers, shown on devices without a fine pointer. */
export function Keypad(p: { onKey: (key: string) => void; onEnter: () => void; disabled: boolean; signed?: boolean }) {
  const { onKey, onEnter, disabled } = p;
  return (
    <div className="keypad no-print" aria-label={say("Keypad")}>
      {[...KEYS, ...(p.signed ? ["−"] : [])].map((key) => (
        <Button
          key={key}

          aria-label={key === "⌫" ? say("delete the last digit") : key}
          onClick={() => onKey(key)}
        >
          {key === "⌫" ? (
            <svg width="26" height="20" viewBox="0 0 26 20" aria-hidden="true">
              <path d="M8 2H24V18H8L2 10ZM12 6 20 14M20 6 12 14" fill="none" stroke="currentColor" strokeWidth="2" />
            </svg>
          ) : (
            key
          )}
        </Button>
      ))}
      <Button type="primary" className="keypad-enter" disabled={disabled} onClick={onEnter}>
        {say("Save reading")}
      </Button>
    </div>
  );
}
