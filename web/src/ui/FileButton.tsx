/** A button that asks for a file; the same file can be chosen again. */
interface Props {
  /** What stands on it, and what it asks for, to whoever does not see it. */
  children: string;
  label: string;
  accept: string;
  disabled?: boolean;
  className?: string;
  onFile: (file: File) => void;
}

export function FileButton({ children, label, accept, disabled, className = "", onFile }: Props) {
  return (
    <label
      className={`button flex cursor-pointer items-center px-3 focus-within:outline-3 focus-within:outline-over ${className}`}
    >
      {children}
      <input
        type="file"
        accept={accept}
        className="sr-only"
        disabled={disabled}
        aria-label={label}
        onChange={(event) => {
          const chosen = event.target.files?.[0];
          event.target.value = "";
          if (chosen) onFile(chosen);
        }}
      />
    </label>
  );
}
