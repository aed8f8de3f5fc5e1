import { clsx } from "clsx";
import { Tooltip } from "radix-ui";
import { forwardRef, type ReactNode } from "react";
import type { ButtonProps } from "./Button";

/** Tips is around all that shows tips: after the first one the others come at once. */
export function Tips({ children }: { children: ReactNode }) {
  return <Tooltip.Provider delayDuration={500}>{children}</Tooltip.Provider>;
}

/** IconButton has its name as a tooltip and for screen readers. */
export const IconButton = forwardRef<HTMLButtonElement, Omit<ButtonProps, "children"> & { label: string }>(function IconButton(
  { label, icon, className, ...rest },
  ref,
) {
  return (
    <Tip text={label}>
      <button
        ref={ref}
        type="button"
        aria-label={label}
        className={clsx(
          "inline-grid size-8 shrink-0 place-items-center rounded-patch text-ink-soft hover:bg-sunk hover:text-ink disabled:opacity-55",
          className,
        )}
        {...rest}
      >
        {icon}
      </button>
    </Tip>
  );
});

/** Tip shows a short text beside what it wraps. */
function Tip({ text, children }: { text: string; children: ReactNode }) {
  return (
    <Tooltip.Root>
      <Tooltip.Trigger asChild>{children}</Tooltip.Trigger>
      <Tooltip.Portal>
        <Tooltip.Content sideOffset={4} className="z-50 rounded bg-ink px-2 py-1 text-small text-paper">
          {text}
        </Tooltip.Content>
      </Tooltip.Portal>
    </Tooltip.Root>
  );
}
