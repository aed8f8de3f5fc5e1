import { useNavigate } from "@tanstack/react-router";
import { signOut } from "~/api/acts";
import { type Me } from "~/api/client";
import { queries } from "~/api/queries";
import { Menu } from "~/kit/Menu";
import { useSettings, type Backdrop, type Theme } from "~/kit/settings";

const themes: Theme[] = ["as the system", "light", "dark"];
const backdrops: Backdrop[] = ["paper", "grey", "night"];

/** PersonMenu is about the person: the trail, how the screen looks, signing out. */
export function PersonMenu({ me }: { me: Me }) {
  const { theme, backdrop, set } = useSettings();
  const navigate = useNavigate();
  const leave = async () => {
    await signOut();
    queries.clear();
    void navigate({ to: "/sign-in" });
  };
  const initials = me.name
    .split(" ")
    .map((w) => w[0])
    .join("");
  return (
    <Menu
      trigger={
        <button
          type="button"
          aria-label={`${initials}: ${me.name}, ${me.role}`}
          className="grid size-8 shrink-0 place-items-center rounded-full bg-ink text-dense font-semibold text-paper"
        >
          {initials}
        </button>
      }
      items={[
        {
          label: `My account: ${me.name}, ${me.role}`,
          onSelect: () => void navigate({ to: "/b/$brand/account", params: { brand: me.brand } }),
        },
        null,
        {
          label: "Trail",
          onSelect: () => void navigate({ to: "/b/$brand/trail", params: { brand: me.brand }, search: { item: undefined } }),
        },
        ...(me.can.includes("galleries")
          ? [{ label: "Galleries", onSelect: () => void navigate({ to: "/b/$brand/galleries", params: { brand: me.brand } }) }]
          : []),
        null,
        ...themes.map((t) => ({ label: `Theme: ${t}`, checked: theme === t, onSelect: () => set({ theme: t }) })),
        null,
        ...backdrops.map((b) => ({ label: `Backdrop: ${b}`, checked: backdrop === b, onSelect: () => set({ backdrop: b }) })),
        null,
        { label: "Sign out", onSelect: () => void leave() },
      ]}
    />
  );
}
