import { Download } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import type { Schema } from "~/api/client";
import { fill, words } from "./words";

const sizeName = (s: Schema["GuestSize"]) =>
  s.id === 0 ? words.original : s.side ? `${s.name}, ${fill(words.upTo, { n: s.side })}` : s.name;

/** Take hands out files: at once where there is one size, else by a menu of sizes. */
export function Take({
  label,
  sizes,
  address,
  className,
  name,
}: {
  label: string;
  sizes: Schema["GuestSize"][];
  address: (size: number) => string;
  className: string;
  name: string;
}) {
  const look = (
    <>
      <Download size={18} aria-hidden="true" /> {label}
    </>
  );
  if (sizes.length === 0) return null;
  if (sizes.length === 1)
    return (
      <a href={address(sizes[0]!.id)} download className={className} data-take={name} title={sizeName(sizes[0]!)}>
        {look}
      </a>
    );
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger className={className} data-take={name}>
        {look}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content sideOffset={4} className="z-50 min-w-44 rounded-lg border border-line bg-card p-1 text-ink shadow-xl">
          {sizes.map((s) => (
            <DropdownMenu.Item key={s.id} asChild>
              <a href={address(s.id)} download className="block rounded px-2.5 py-1.5 outline-none data-[highlighted]:bg-sunk">
                {sizeName(s)}
              </a>
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
