import { Modal } from "antd";
import type { ReactNode } from "react";

/** A question in front of the page; Escape and the cross close it, a touch beside it does not. */
export function Dialog({ title, wide = false, onClose, children }: { title: string; wide?: boolean; onClose: () => void; children: ReactNode }) {
  return (
    <Modal open title={title} width={wide ? 860 : 560} footer={null} mask={{ closable: false }} onCancel={onClose} destroyOnHidden>
      {children}
    </Modal>
  );
}
