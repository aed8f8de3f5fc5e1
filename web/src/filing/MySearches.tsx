import { X } from "lucide-react";
import { prefer, usePreferences } from "~/api/preferences";
import { IconButton } from "~/kit/IconButton";
import { tell } from "~/kit/notes";
import { useBrand, useGo } from "~/sheet/place";
import { CabinetRow } from "./CabinetRow";

/** MySearches opens the searches that one kept for oneself; each can be forgotten. */
export function MySearches() {
  const brand = useBrand();
  const { goTo } = useGo();
  const searches = usePreferences(brand).searches ?? [];
  const forget = (name: string) => {
    prefer(brand, { searches: searches.filter((s) => s.name !== name) });
    tell(`Forgot the search “${name}”`, { label: "Undo", run: () => prefer(brand, { searches }) });
  };
  return (
    <>
      {searches.map((s) => (
        <div key={s.name} className="flex items-center">
          <div className="min-w-0 flex-1">
            <CabinetRow name={s.name} indent={1} onOpen={() => goTo(s.query)} />
          </div>
          <IconButton label={`Forget the search “${s.name}”`} className="size-7" icon={<X size={14} />} onClick={() => forget(s.name)} />
        </div>
      ))}
    </>
  );
}
