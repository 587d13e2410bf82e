import { useState } from "react";

type Field = Omit<React.InputHTMLAttributes<HTMLInputElement>, "value" | "onChange" | "onBlur" | "onKeyDown">;

/**
 * A field that takes what fits and nothing else: with every key, or when it is left or Enter is pressed. What does not fit is
 * marked while it stands there, and gone when the field is left; Escape gives up.
 */
export function TypedField({
  value,
  fits,
  onTake,
  takes = "leaving",
  ...field
}: { value: string; fits(text: string): boolean; onTake(text: string): void; takes?: "typing" | "leaving" } & Field) {
  const [text, setText] = useState<string | null>(null);
  const isFit = text === null || fits(text.trim());
  const take = (typed: string) => {
    if (fits(typed.trim()) && typed.trim() !== value) onTake(typed.trim());
  };
  return (
    <input
      {...field}
      value={text ?? value}
      aria-invalid={!isFit}
      onChange={(event) => {
        setText(event.target.value);
        if (takes === "typing") take(event.target.value);
      }}
      onBlur={() => {
        if (text !== null && takes === "leaving") take(text);
        setText(null);
      }}
      onKeyDown={(event) => {
        // What is taken with every key is taken already: there Enter sends the form.
        if (event.key === "Enter" && takes === "leaving") event.currentTarget.blur();
        if (event.key === "Escape") setText(null);
      }}
    />
  );
}

/** A number between two others. */
export function NumberField({
  value,
  least,
  most,
  unit = "",
  onTake,
  ...field
}: { value: number; least: number; most: number; unit?: string; onTake(value: number): void; takes?: "typing" | "leaving" } & Omit<Field, "inputMode">) {
  return (
    <TypedField
      title={`${least} to ${most} ${unit}`.trim()}
      {...field}
      inputMode="numeric"
      value={String(value)}
      fits={(text) => text !== "" && Number(text) >= least && Number(text) <= most}
      onTake={(text) => onTake(Number(text))}
    />
  );
}
