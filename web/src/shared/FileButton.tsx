import { useRef } from "react";
import { Button, type ButtonProps } from "react-bootstrap";

interface FileButtonProps extends Omit<ButtonProps, "onClick"> {
  /** Which files are offered, and what they are called to a screen reader. */
  accept: string;
  files: string;
  multiple?: boolean;
  onFiles: (files: File[]) => void;
}

/** A button that asks for files; the same one can be picked again. */
export function FileButton({ accept, files, multiple, onFiles, ...button }: FileButtonProps) {
  const field = useRef<HTMLInputElement>(null);
  return (
    <>
      <Button {...button} onClick={() => field.current?.click()} />
      <input
        ref={field}
        type="file"
        hidden
        accept={accept}
        multiple={multiple}
        aria-label={files}
        onChange={(event) => {
          const picked = [...(event.currentTarget.files ?? [])];
          event.currentTarget.value = "";
          if (picked.length > 0) onFiles(picked);
        }}
      />
    </>
  );
}
