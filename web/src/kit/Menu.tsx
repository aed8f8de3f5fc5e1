import { clsx } from "clsx";
import { DropdownMenu } from "radix-ui";
import type { ReactNode } from "react";

export interface MenuItem {
  label: string;
  icon?: ReactNode;
  danger?: boolean;
  checked?: boolean;
  onSelect: () => void;
}

/** Menu opens a list of actions from a button; null draws a line between groups. */
export function Menu({ trigger, items, align = "end" }: { trigger: ReactNode; items: (MenuItem | null)[]; align?: "start" | "end" }) {
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger asChild>{trigger}</DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align={align} sideOffset={4} className="z-50 min-w-44 rounded-lg border border-line bg-card p-1 shadow-xl">
          {items.map((item, i) =>
            item ? (
              <DropdownMenu.Item
                key={item.label}
                onSelect={item.onSelect}
                className={clsx(
                  "flex cursor-pointer items-center gap-2 rounded px-2.5 py-1.5 outline-none",
                  "data-[highlighted]:bg-sunk",
                  item.danger && "text-tomato",
                )}
              >
                {item.icon}
                <span className="flex-1">{item.label}</span>
                {item.checked && <span aria-label="chosen">✓</span>}
              </DropdownMenu.Item>
            ) : (
              <DropdownMenu.Separator key={`line-${i}`} className="my-1 h-px bg-line" />
            ),
          )}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
