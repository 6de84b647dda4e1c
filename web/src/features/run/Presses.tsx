import type { ReactNode } from "react";

/** The one large press of a state. */
export function Big({
  children,
  onClick,
  disabled,
}: {
  children: ReactNode;
  onClick: () => void;
  disabled?: boolean;
}) {
  return (
    <button
      type="button"
      className="btn btn-main min-h-16 w-full text-2xl"
      onClick={onClick}
      disabled={disabled}
    >
      {children}
    </button>
  );
}

/** One of several. */
export function Do({ children, onClick }: { children: ReactNode; onClick: () => void }) {
  return (
    <button type="button" className="btn min-h-14" onClick={onClick}>
      {children}
    </button>
  );
}
