import { FolderPlus, Plus, X } from "lucide-react";
import { Button } from "~/kit/Button";
import { IconButton } from "~/kit/IconButton";
import { Menu } from "~/kit/Menu";
import { items } from "~/kit/words";
import type { How, Rule } from "../filters";
import { Condition } from "./Condition";
import { kindOf, kinds } from "./kinds";
import { added, changed, isGroup, type Way } from "./tree";

/** How deep groups can lie in one another; the server takes one more for the filter of the place. */
const deepest = 4;

const hows: { how: How; label: string }[] = [
  { how: "all", label: "all of these" },
  { how: "any", label: "any of these" },
  { how: "none", label: "none of these" },
];

/** Group edits a group of conditions and what is in it. */
export function Group({
  tree,
  way,
  rule,
  counts,
  onTree,
}: {
  tree: Rule;
  way: Way;
  rule: Rule;
  counts: Map<string, number>;
  onTree: (tree: Rule) => void;
}) {
  const rules = rule.rules ?? [];
  const what = way.length === 0 ? "the filter" : "the group";
  return (
    <div
      role="group"
      aria-label={way.length === 0 ? "The filter" : "A group of conditions"}
      data-group={way.join()}
      className={way.length === 0 ? undefined : "rounded-lg border border-line bg-sunk/60 p-2.5"}
    >
      <div className="mb-2 flex flex-wrap items-center gap-2">
        <select
          aria-label={`How the conditions of ${what} go together`}
          className="rounded-patch border border-line-strong bg-card px-2 py-1 font-medium"
          value={rule.match}
          onChange={(e) => onTree(changed(tree, way, { ...rule, match: e.target.value as How }))}
        >
          {hows.map((h) => (
            <option key={h.how} value={h.how}>
              {h.label}
            </option>
          ))}
        </select>
        <Count n={counts.get(way.join())} />
        {way.length > 0 && (
          <IconButton
            label="Take the group out"
            className="ml-auto size-7"
            icon={<X size={16} />}
            onClick={() => onTree(changed(tree, way, undefined))}
          />
        )}
      </div>
      <ul className="space-y-2">
        {rules.map((r, i) => (
          <li key={i}>
            {isGroup(r) ? (
              <Group tree={tree} way={[...way, i]} rule={r} counts={counts} onTree={onTree} />
            ) : (
              <div className="flex flex-wrap items-center gap-2" data-condition={r.field}>
                <span className="min-w-20 text-dense font-medium text-ink-soft">{kindOf(r)?.label ?? r.field}</span>
                <Condition rule={r} onChange={(to) => onTree(changed(tree, [...way, i], to))} />
                <span className="ml-auto flex items-center gap-1">
                  <Count n={counts.get([...way, i].join())} />
                  <IconButton
                    label={`Take “${kindOf(r)?.label ?? r.field}” out`}
                    className="size-7"
                    icon={<X size={16} />}
                    onClick={() => onTree(changed(tree, [...way, i], undefined))}
                  />
                </span>
              </div>
            )}
          </li>
        ))}
      </ul>
      <div className="mt-2 flex flex-wrap gap-2">
        <Menu
          align="start"
          trigger={<Button icon={<Plus size={16} />}>Add a condition</Button>}
          items={kinds.map((k) => ({ label: k.label, onSelect: () => onTree(added(tree, way, k.begin)) }))}
        />
        {way.length < deepest && (
          <Button
            icon={<FolderPlus size={16} />}
            onClick={() => onTree(added(tree, way, { match: rule.match === "any" ? "all" : "any", rules: [] }))}
          >
            Add a group
          </Button>
        )}
      </div>
    </div>
  );
}

const Count = ({ n }: { n: number | undefined }) => (
  <span className="min-w-16 text-right text-dense text-ink-soft" data-count={n}>
    {n === undefined ? "" : items(n)}
  </span>
);
