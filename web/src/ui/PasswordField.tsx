/** A password typed: the one of now, or a fresh one, so that the browser offers what fits. */
interface Props {
  label: string;
  value: string;
  onChange: (value: string) => void;
  fresh?: boolean;
  className?: string;
}

export function PasswordField({ label, value, onChange, fresh = false, className }: Props) {
  return (
    <label className={className}>
      <span className="field-label">{label}</span>
      <input
        className="field"
        type="password"
        autoComplete={fresh ? "new-password" : "current-password"}
        value={value}
        onChange={(event) => onChange(event.target.value)}
      />
    </label>
  );
}
