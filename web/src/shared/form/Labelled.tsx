import { type ComponentProps, useId } from "react";

/** An input with its label over it. */
export function Labelled({
  label,
  className = "field",
  ...input
}: { label: string } & ComponentProps<"input">) {
  const id = useId();
  return (
    <>
      <label htmlFor={id} className="block text-sm font-semibold">
        {label}
      </label>
      <input id={id} className={className} {...input} />
    </>
  );
}
