import type { Me } from "~/api/client";

/** settingsFor lists the pages of settings that somebody may see. */
export function settingsFor(me: Me) {
  const all = [
    { to: "/b/$brand/settings", label: "The brand", may: me.can.includes("settings") },
    { to: "/b/$brand/people", label: "People and rights", may: me.can.includes("settings") },
    { to: "/b/$brand/arrivals", label: "What may come in", may: me.everywhere.includes("bring_in") },
  ] as const;
  return all.filter((p) => p.may);
}
