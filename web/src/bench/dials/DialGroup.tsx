import type { ReactNode } from "react";
import { useState } from "react";

interface DialGroupProps {
  title: string;
  /** Whether it stands open before anyone has opened or closed it. */
  isOpen: boolean;
  children: ReactNode;
}

/** Dials under a heading that folds away; without a title they just stand there. */
export function DialGroup({ title, isOpen, children }: DialGroupProps) {
  const [chosen, setChosen] = useState<boolean>();
  if (title === "") return <>{children}</>;
  return (
    <details
      className="dial-group"
      open={chosen ?? isOpen}
      onToggle={(event) => setChosen(event.currentTarget.open)}
    >
      <summary>{title}</summary>
      {children}
    </details>
  );
}
