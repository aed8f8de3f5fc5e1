import type { Part } from "./acts";

/** Parts chooses among parts of a recipe. */
export function Parts({ all, taken, onTake }: { all: { part: Part; name: string }[]; taken: Part[]; onTake: (taken: Part[]) => void }) {
  return (
    <div className="grid grid-cols-2">
      {all.map(({ part, name }) => (
        <label key={part} className="flex min-h-7 items-center gap-1.5 text-dense">
          <input
            type="checkbox"
            className="size-4 accent-sea"
            checked={taken.includes(part)}
            onChange={(e) => onTake(e.target.checked ? [...taken, part] : taken.filter((t) => t !== part))}
          />
          {name}
        </label>
      ))}
    </div>
  );
}
