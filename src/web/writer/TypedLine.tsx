import { useId, useState } from "react";

export interface LineFault {
  at: number;
  says: string;
}

/**
 * One line of a notation. What is typed is read at every key; a fault is said with a mark under its character, and
 * nothing is taken before it is gone.
 */
export function TypedLine({
  label,
  hint,
  value,
  read,
  onTake,
  onEnter,
  inputRef,
}: {
  label: string;
  hint: string;
  value: string;
  /** The fault in a text; null when it can be read. */
  read(text: string): LineFault | null;
  onTake(text: string): void;
  onEnter?(text: string): void;
  inputRef?: React.Ref<HTMLInputElement>;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  const text = typed ?? value;
  const fault = text.trim() === "" ? null : read(text);
  const id = useId();
  return (
    <label className="block">
      <span className="font-bold">{label}</span>
      <input
        ref={inputRef}
        className="input w-full font-mono text-lg"
        value={text}
        spellCheck={false}
        autoComplete="off"
        aria-invalid={fault !== null}
        aria-describedby={id}
        onFocus={(event) => event.currentTarget.select()}
        onChange={(event) => {
          setTyped(event.target.value);
          if (event.target.value.trim() !== "" && !read(event.target.value)) onTake(event.target.value);
        }}
        onBlur={() => !fault && setTyped(null)}
        onKeyDown={(event) => {
          if (event.key === "Escape") setTyped(null);
          if (event.key !== "Enter") return;
          event.preventDefault();
          if (!fault && text.trim() !== "") onEnter?.(text);
        }}
      />
      <span id={id} role="status" className="block min-h-6 text-sm">
        {fault ? (
          <>
            <span className="block overflow-hidden whitespace-pre px-3 font-mono text-lg leading-3 font-bold" aria-hidden>
              {" ".repeat(fault.at)}^
            </span>
            <span className="font-semibold">
              Character {fault.at + 1}: {fault.says}
            </span>
          </>
        ) : (
          <span className="quiet">{hint}</span>
        )}
      </span>
    </label>
  );
}
