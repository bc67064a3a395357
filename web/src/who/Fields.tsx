import { useId } from "react";

interface Props {
  label: string;
  value: string;
  onType: (value: string) => void;
  type?: "text" | "password";
  autoComplete: string;
  maxLength: number;
  required?: boolean;
  /** What is wanted, under the field. */
  says?: string;
}

/** TextField is a field with its label over it and what is wanted under it. */
export function TextField({
  label,
  value,
  onType,
  type = "text",
  autoComplete,
  maxLength,
  required = true,
  says,
}: Props) {
  const id = useId();
  return (
    <div className="grid gap-1">
      <label htmlFor={id} className="text-muted">
        {label}
      </label>
      <input
        id={id}
        type={type}
        className="input w-full bg-sheet"
        autoComplete={autoComplete}
        autoCapitalize="none"
        maxLength={maxLength}
        required={required}
        aria-describedby={says ? `${id}-says` : undefined}
        value={value}
        onChange={(event) => onType(event.target.value)}
      />
      {says && (
        <p id={`${id}-says`} className="text-[0.88rem] text-muted">
          {says}
        </p>
      )}
    </div>
  );
}

/** UserName asks for a user name that is new here. */
export function UserName({ value, onType }: { value: string; onType: (value: string) => void }) {
  return (
    <TextField
      label="User name"
      value={value}
      onType={onType}
      autoComplete="username"
      maxLength={40}
      says="2 to 40 letters, digits and . - _ @"
    />
  );
}

interface NewPasswordProps {
  label: string;
  value: string;
  onType: (value: string) => void;
}

/** NewPassword asks for a password that is to be. */
export function NewPassword({ label, value, onType }: NewPasswordProps) {
  return (
    <TextField
      label={label}
      type="password"
      value={value}
      onType={onType}
      autoComplete="new-password"
      maxLength={200}
      says="10 characters at least. Some words that nobody would expect beside each other are easy to keep."
    />
  );
}
