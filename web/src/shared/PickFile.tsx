import { Button, Upload } from "antd";

/** A file of one's own device, read here; nothing is sent before somebody says so. */
export function PickFile({
  label,
  accept,
  named = true,
  onFile,
}: {
  label: string;
  accept: string;
  /** Whether the name of the chosen file is shown below; not where the file itself is. */
  named?: boolean;
  onFile: (file: File) => void;
}) {
  return (
    <Upload
      accept={accept}
      maxCount={1}
      showUploadList={named}
      beforeUpload={(file) => {
        onFile(file);
        return false;
      }}
    >
      <Button>{label}</Button>
    </Upload>
  );
}
