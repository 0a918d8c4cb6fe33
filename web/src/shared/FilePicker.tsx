import Button, { type ButtonProps } from "@mui/material/Button";
import { useRef } from "react";

type Props = Omit<ButtonProps, "onClick"> & { label: string; accept: string; onPick: (file: File) => void };

/** A button that asks for a file; the same file can be picked twice in a row. */
export function FilePicker({ label, accept, onPick, ...button }: Props) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <>
      <input
        ref={input}
        type="file"
        accept={accept}
        className="unseen"
        aria-label={label}
        tabIndex={-1}
        onChange={(e) => {
          const picked = e.target.files?.[0];
          if (picked) onPick(picked);
          e.target.value = "";
        }}
      />
      <Button {...button} onClick={() => input.current?.click()} />
    </>
  );
}
