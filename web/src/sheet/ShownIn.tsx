import { useOutside } from "./outside";

/** ShownIn lists the galleries and embeds that show an album, or a folder with those above it, with a way there where people see them. */
export function ShownIn({ brand, album, folders }: { brand: string; album?: number; folders?: { here: number; above: Set<number> } }) {
  const shown = useOutside(brand).filter((o) =>
    o.places.some(
      (p) =>
        (album !== undefined && p.album === album) ||
        (folders && p.folder !== undefined && (p.folder === folders.here || (p.below && folders.above.has(p.folder)))),
    ),
  );
  if (shown.length === 0) return null;
  return (
    <ul className="text-dense" aria-label="Shown outside">
      {shown.map((o) => (
        <li key={o.key} className={o.open ? "text-plum" : "text-ink-soft"}>
          {o.open ? (
            <>
              Shown in the {o.what}{" "}
              <a href={o.path} target="_blank" rel="noreferrer" className="underline">
                “{o.name}”
              </a>
            </>
          ) : (
            `In the ${o.what} “${o.name}”, which is ${o.what === "embed" ? "off" : "closed"}`
          )}
        </li>
      ))}
    </ul>
  );
}
