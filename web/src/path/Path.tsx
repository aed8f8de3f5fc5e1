import { Link, useLocation, useNavigate } from "@tanstack/react-router";
import { ChevronDown, CircleHelp, Settings, Signpost } from "lucide-react";
import type { Me } from "~/api/client";
import { IconButton } from "~/kit/IconButton";
import { Mark } from "~/kit/Mark";
import { Menu } from "~/kit/Menu";
import { useBrand, useStep } from "~/sheet/place";
import { PersonMenu } from "./PersonMenu";
import { SearchBox } from "./SearchBox";
import { Steps } from "./Steps";

/** Pages that belong to no step. */
const outside = new Set(["arrivals", "trail", "people", "settings", "account"]);

/** Path is the top edge: the brand, the steps of the work on their thread with what waits at each, search, the person. */
export function Path({
  me,
  onKeys,
  onGoTo,
  onStep,
  onAgain,
}: {
  me: Me;
  onKeys: () => void;
  onGoTo: () => void;
  onStep: () => void;
  onAgain: () => void;
}) {
  const brand = useBrand();
  const step = useStep();
  const page = useLocation({ select: (l) => (l.pathname.includes("/rehearsals/") ? "rehearsals" : l.pathname.split("/").at(-1)) });
  const navigate = useNavigate();
  const settings = me.can.includes("settings")
    ? "/b/$brand/settings"
    : me.everywhere.includes("bring_in")
      ? "/b/$brand/arrivals"
      : undefined;
  const present = [
    "galleries",
    "sizes",
    "taken-along",
    "embeds",
    "addresses",
    "dispatches",
    "rehearsals",
    "screens",
    "outlets",
    "calendar",
  ].includes(page ?? "")
    ? "send-out"
    : page === "tags"
      ? "describe"
      : outside.has(page ?? "")
        ? undefined
        : step;
  return (
    <header className="stitch-b z-30 flex h-[52px] shrink-0 items-center gap-4 bg-card px-3 max-md:gap-2">
      <Link
        to="/b/$brand/$step"
        params={{ brand, step: "file" }}
        search={{ place: "everything" }}
        className="flex max-w-56 min-w-14 shrink-[100000] items-center gap-2"
        title={`${me.brandName}: the whole library`}
      >
        <Mark />
        <span className="truncate font-display text-base font-semibold">{me.brandName}</span>
      </Link>
      {(settings || me.brands.length > 1) && (
        <Menu
          align="start"
          trigger={<IconButton label="More about the brand" className="-ml-3 size-7" icon={<ChevronDown size={16} />} />}
          items={[
            ...(settings
              ? [{ label: "Settings", icon: <Settings size={16} />, onSelect: () => void navigate({ to: settings, params: { brand } }) }]
              : []),
            ...(me.brands.length > 1
              ? [
                  ...(settings ? [null] : []),
                  ...me.brands.map((b) => ({
                    label: b.name,
                    checked: b.code === me.brand,
                    onSelect: () => (window.location.href = `/b/${b.code}`),
                  })),
                ]
              : []),
          ]}
        />
      )}
      <Steps me={me} present={present} onStep={onStep} onAgain={onAgain} />
      <SearchBox />
      <IconButton label="Go to… (Ctrl+K)" className="max-lg:hidden" icon={<Signpost size={18} />} onClick={onGoTo} />
      <IconButton label="Keys (?)" className="max-md:hidden" icon={<CircleHelp size={18} />} onClick={onKeys} />
      <PersonMenu me={me} />
    </header>
  );
}
