import { Button, Upload } from "antd";

/** A file of one's own device, read here; nothing is sent before somebody says so. */
export function PickFile({ label, accept, onFile }: { label: string; accept: string; onFile: (file: File) => void }) {
  return (
    <Upload
      accept={accept}
      maxCount={1}
      beforeUpload={(file) => {
        onFile(file);
        return false;
      }}
    >
      <Button>{label}</Button>
    </Upload>
  );
}
