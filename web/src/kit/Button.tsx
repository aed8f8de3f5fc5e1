import { clsx } from "clsx";
import { forwardRef, type ButtonHTMLAttributes, type ReactNode } from "react";

type Tone = "main" | "plain" | "quiet" | "danger" | "strap";

const tones: Record<Tone, string> = {
  main: "bg-sea text-on-sea hover:bg-sea-deep border-transparent",
  plain: "bg-card text-ink border-line-strong hover:bg-sunk",
  quiet: "bg-transparent text-ink border-transparent hover:bg-sunk",
  danger: "bg-card text-tomato border-tomato hover:bg-tomato hover:text-on-tomato",
  strap: "bg-saffron text-on-saffron border-transparent hover:brightness-95",
};

export interface ButtonProps extends ButtonHTMLAttributes<HTMLButtonElement> {
  tone?: Tone;
  icon?: ReactNode;
}

/** Button says with a verb what happens. */
export const Button = forwardRef<HTMLButtonElement, ButtonProps>(function Button(
  { tone = "plain", icon, className, children, type = "button", ...rest },
  ref,
) {
  return (
    <button
      ref={ref}
      type={type}
      className={clsx(
        "inline-flex min-h-8 items-center justify-center gap-1.5 rounded-patch border px-3 py-1",
        "font-medium disabled:cursor-not-allowed disabled:opacity-55",
        tones[tone],
        className,
      )}
      {...rest}
    >
      {icon}
      {children}
    </button>
  );
});
