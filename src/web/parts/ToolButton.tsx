/** A small button of a toolbar. Pressing it leaves the keyboard where it was. */
export function ToolButton({
  label,
  title = label,
  pressed,
  disabled = false,
  onClick,
  className = "",
  children,
}: {
  /** Its name for those who hear it; also said on hovering unless `title` says more. */
  label: string;
  title?: string;
  pressed?: boolean;
  disabled?: boolean;
  onClick(): void;
  className?: string;
  children: React.ReactNode;
}) {
  return (
    <button
      type="button"
      className={`btn btn-sm in-[.join]:join-item px-2.5 ${pressed ? "btn-primary" : ""} ${className}`}
      aria-label={label}
      title={title}
      aria-pressed={pressed}
      disabled={disabled}
      onClick={onClick}
      onMouseDown={(event) => event.preventDefault()}
    >
      {children}
    </button>
  );
}
