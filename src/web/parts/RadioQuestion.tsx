/** One question with a few answers of which one holds. */
export function RadioQuestion<V extends string>({
  name,
  asks,
  value,
  options,
  onChoose,
  children,
}: {
  /** Keeps its dots apart from those of other questions on the page. */
  name: string;
  asks: string;
  value: V;
  options: readonly { value: V; says: string }[];
  onChoose(value: V): void;
  children?: React.ReactNode;
}) {
  return (
    <fieldset>
      <legend className="mb-1 font-bold">{asks}</legend>
      <div className="flex flex-wrap gap-x-6 gap-y-1">
        {options.map((option) => (
          <label key={option.value} className="flex cursor-pointer items-center gap-2">
            <input type="radio" className="radio radio-sm" name={name} checked={option.value === value} onChange={() => onChoose(option.value)} />
            {option.says}
          </label>
        ))}
      </div>
      {children}
    </fieldset>
  );
}
