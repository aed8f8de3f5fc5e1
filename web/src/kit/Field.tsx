import { clsx } from "clsx";
import { forwardRef, useId, type InputHTMLAttributes, type ReactNode, type TextareaHTMLAttributes } from "react";

const box =
  "w-full rounded-patch border border-line-strong bg-card px-2.5 py-1.5 " +
  "text-ink placeholder:text-ink-soft focus:outline-2 focus:outline-sea";

interface Shared {
  label: string;
  problem?: string;
  hint?: ReactNode;
}

/** TextField is one line with its name above and what is wrong with it below. */
export const TextField = forwardRef<HTMLInputElement, Shared & InputHTMLAttributes<HTMLInputElement>>(function TextField(
  { label, problem, hint, className, ...rest },
  ref,
) {
  const id = useId();
  return (
    <div className={className}>
      <label htmlFor={id} className="mb-1 block text-dense font-medium text-ink-soft">
        {label}
      </label>
      <input
        ref={ref}
        id={id}
        aria-invalid={problem ? true : undefined}
        aria-describedby={problem ? `${id}-problem` : undefined}
        className={clsx(box, problem && "border-tomato")}
        {...rest}
      />
      <Below id={`${id}-problem`} problem={problem} hint={hint} />
    </div>
  );
});

/** TextArea is TextField with several lines. */
export const TextArea = forwardRef<HTMLTextAreaElement, Shared & TextareaHTMLAttributes<HTMLTextAreaElement>>(function TextArea(
  { label, problem, hint, className, ...rest },
  ref,
) {
  const id = useId();
  return (
    <div className={className}>
      <label htmlFor={id} className="mb-1 block text-dense font-medium text-ink-soft">
        {label}
      </label>
      <textarea ref={ref} id={id} className={clsx(box, "resize-y", problem && "border-tomato")} {...rest} />
      <Below id={`${id}-problem`} problem={problem} hint={hint} />
    </div>
  );
});

function Below({ id, problem, hint }: { id: string; problem?: string; hint?: ReactNode }) {
  if (problem)
    return (
      <p id={id} role="alert" className="mt-1 text-dense text-tomato">
        {problem}
      </p>
    );
  return hint ? <p className="mt-1 text-small text-ink-soft">{hint}</p> : null;
}

/** Choice picks one of a few. */
export function Choice<T extends string | number>({
  label,
  value,
  options,
  onChange,
}: {
  label: string;
  value: T;
  options: { value: T; label: string }[];
  onChange: (value: T) => void;
}) {
  const id = useId();
  return (
    <div>
      <label htmlFor={id} className="mb-1 block text-dense font-medium text-ink-soft">
        {label}
      </label>
      <select id={id} className={box} value={String(value)} onChange={(e) => onChange(options[e.target.selectedIndex]!.value)}>
        {options.map((o) => (
          <option key={String(o.value)} value={String(o.value)}>
            {o.label}
          </option>
        ))}
      </select>
    </div>
  );
}

/** Switch turns one thing on or off at once. */
export function Switch({
  label,
  checked,
  disabled,
  onChange,
}: {
  label: string;
  checked: boolean;
  disabled?: boolean;
  onChange: (on: boolean) => void;
}) {
  return (
    <label className="flex min-h-7 items-center gap-2">
      <input
        type="checkbox"
        className="size-4 accent-sea"
        checked={checked}
        disabled={disabled}
        onChange={(e) => onChange(e.target.checked)}
      />
      <span>{label}</span>
    </label>
  );
}
