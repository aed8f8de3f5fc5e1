import { clsx } from "clsx";
import { Link } from "@tanstack/react-router";
import type { ReactNode } from "react";
import type { Me } from "~/api/client";
import { settingsFor } from "./settingsFor";

/** SettingsFrame is what the pages of a brand's settings have in common: what they are, and the way from one to the next. */
export function SettingsFrame({ me, children }: { me: Me; children: ReactNode }) {
  const pages = settingsFor(me);
  return (
    <div className="flex min-h-0 flex-1 max-md:flex-col">
      <nav
        aria-label="Settings"
        className={clsx(
          "w-52 shrink-0 border-r border-line bg-card p-3 max-md:flex max-md:w-full max-md:gap-1 max-md:overflow-x-auto",
          "max-md:border-r-0 max-md:border-b",
        )}
      >
        <p className="mb-2 px-2 font-display text-base font-semibold max-md:hidden">Settings of {me.brandName}</p>
        {pages.map((p) => (
          <Link
            key={p.to}
            to={p.to}
            params={{ brand: me.brand }}
            className="block rounded-patch px-2 py-1.5 whitespace-nowrap hover:bg-sunk"
            activeProps={{ className: "bg-saffron-wash font-medium", "aria-current": "page" }}
          >
            {p.label}
          </Link>
        ))}
      </nav>
      {children}
    </div>
  );
}
