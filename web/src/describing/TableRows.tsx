import { useInfiniteQuery } from "@tanstack/react-query";
import { clsx } from "clsx";
import type { Schema } from "~/api/client";
import { Button } from "~/kit/Button";
import { tableRows } from "./acts";
import { fields } from "./fields";

const labelOf = (field: string) =>
  field === "tags" ? "Tags" : field === "code" ? "Code" : (fields.find((f) => f.name === field)?.label ?? field);

/** TableRows lists the rows of a table that came back, a hundred at a time: field by field what was and what becomes. */
export function TableRows({ brand, table, state, of }: { brand: string; table: number; state: Schema["TableRowState"]; of: number }) {
  const { data, hasNextPage, fetchNextPage, isFetching } = useInfiniteQuery({
    queryKey: ["table", table, state],
    initialPageParam: 0,
    queryFn: ({ pageParam }) => tableRows(brand, table, state, pageParam),
    getNextPageParam: (last) => (last.length === 100 ? last.at(-1)!.number : undefined),
  });
  const rows = data?.pages.flat() ?? [];
  return (
    <div className="max-h-[38vh] overflow-y-auto border-y border-line" tabIndex={0} role="group" aria-label="What changes, row by row">
      {!data && <p className="py-2 text-ink-soft">Loading…</p>}
      <ul>
        {rows.map((row) => (
          <li key={row.number} data-line={row.number} className="border-b border-line py-1.5 last:border-0">
            <p className="flex gap-2">
              <span className="min-w-0 flex-1 truncate font-medium">{row.fileName || row.code || "no code"}</span>
              <span className="shrink-0 text-dense text-ink-soft">line {row.number}</span>
            </p>
            {row.changes.map((c) => (
              <p key={c.field} className="grid grid-cols-[7rem_1fr_1fr] gap-2 text-dense max-sm:grid-cols-1 max-sm:gap-0">
                <span className="text-ink-soft">{labelOf(c.field)}</span>
                <del className={clsx("break-words text-ink-soft no-underline", c.was && "max-sm:line-through")}>{c.was || "nothing"}</del>
                <ins className="break-words no-underline">{c.becomes || <span className="text-tomato">emptied</span>}</ins>
              </p>
            ))}
            {row.problems.map((p) => (
              <p key={p.field} className="text-dense text-tomato">
                {labelOf(p.field)}: {p.text}
              </p>
            ))}
          </li>
        ))}
      </ul>
      {hasNextPage && (
        <Button tone="quiet" className="my-1" disabled={isFetching} onClick={() => void fetchNextPage()}>
          Show more of the {of.toLocaleString("en-GB")}
        </Button>
      )}
    </div>
  );
}
