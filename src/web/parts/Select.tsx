/** One of several, in a list that opens. */
export function Select<V extends string>({
  label,
  value,
  options,
  className = "select w-full",
  onChoose,
}: {
  label: string;
  value: V;
  options: readonly { value: V; says: string }[];
  className?: string;
  onChoose(value: V): void;
}) {
  return (
    <select className={className} aria-label={label} value={value} onChange={(event) => onChoose(event.target.value as V)}>
      {options.map((option) => (
        <option key={option.value} value={option.value}>
          {option.says}
        </option>
      ))}
    </select>
  );
}
