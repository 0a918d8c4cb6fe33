import type { ReactNode, SelectHTMLAttributes } from "react";

type Props = SelectHTMLAttributes<HTMLSelectElement> & { shown: string; children: ReactNode };

/** A list to choose from whose chosen line is read whole: a browser's own list cuts it off. */
export function WholeChoice({ shown, children, ...rest }: Props) {
  return (
    <span className="whole-choice">
      <span aria-hidden="true">{shown}</span>
      <select className="field-choice" {...rest}>
        {children}
      </select>
    </span>
  );
}
