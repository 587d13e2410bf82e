interface Props {
  label: string;
  /** The one that somebody has, or one that they choose: browsers keep and offer the first. */
  kind: "current-password" | "new-password";
  value: string;
  size?: "normal" | "large";
  isFirst?: boolean;
  onChange(text: string): void;
}

/** A passphrase that is typed and not shown. */
export function PassphraseField({ label, kind, value, size = "normal", isFirst = false, onChange }: Props) {
  return (
    <label className="flex flex-col gap-1">
      <span className="font-bold">{label}</span>
      <input
        className={`input w-full ${size === "large" ? "input-lg" : ""}`}
        type="password"
        autoComplete={kind}
        value={value}
        required
        maxLength={200}
        {...(isFirst ? { "data-first": true } : {})}
        onChange={(event) => onChange(event.target.value)}
      />
    </label>
  );
}
