import { FileDown, FileUp } from "lucide-react";
import { useQuery } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { messageOf, type Schema, type Selection } from "~/api/client";
import { Button } from "~/kit/Button";
import { Dialog } from "~/kit/Dialog";
import { items, plural, when } from "~/kit/words";
import { applyTable, bringBack, table as tableNow, tables, takeTable } from "./acts";
import { TableRows } from "./TableRows";

type Table = Schema["WordsTable"];
type State = Schema["TableRowState"];

/** TableDialog gives the words of a selection as a table for a spreadsheet, and takes one back: what it changes is shown before it
 * is done. Without a selection it only takes one back. */
export function TableDialog({
  brand,
  selection,
  count,
  onClose,
}: {
  brand: string;
  selection?: Selection;
  count: number;
  onClose: () => void;
}) {
  const [busy, setBusy] = useState<"out" | "in">();
  const [problem, setProblem] = useState<string>();
  const [chosen, setChosen] = useState<Table>();
  const table = useTable(brand, chosen);
  const before = useQuery({ queryKey: ["tables"], queryFn: () => tables(brand), staleTime: 0 }).data?.[0];
  const file = useRef<HTMLInputElement>(null);
  const during = async (what: "out" | "in", run: () => Promise<void>) => {
    setBusy(what);
    setProblem(undefined);
    try {
      await run();
    } catch (error) {
      setProblem(messageOf(error));
    } finally {
      setBusy(undefined);
    }
  };
  const take = (form: "csv" | "json") => void during("out", () => takeTable(brand, selection!, form));
  const bring = (picked: File | undefined) => {
    if (picked) void during("in", async () => setChosen(await bringBack(brand, picked)));
    if (file.current) file.current.value = ""; // so that the same file can be chosen again once it was mended
  };
  const apply = () => {
    onClose();
    void applyTable(brand, table!.id);
  };
  return (
    <Dialog wide title={table ? table.name : "Words as a table"} onClose={onClose}>
      {!table && selection && (
        <section className="mb-5">
          <h3 className="text-base">Take out {items(count)}</h3>
          <p className="mt-1 mb-2 text-ink-soft">One row for each, with its titles, texts, rights and tags, for any spreadsheet.</p>
          <div className="flex flex-wrap gap-2">
            <Button tone="main" icon={<FileDown size={16} />} disabled={!!busy} onClick={() => take("csv")}>
              {busy === "out" ? "Writing…" : "CSV"}
            </Button>
            <Button icon={<FileDown size={16} />} disabled={!!busy} onClick={() => take("json")}>
              JSON
            </Button>
          </div>
        </section>
      )}
      {!table && (
        <section>
          <h3 className="text-base">Bring one back</h3>
          <p className="mt-1 mb-2 text-ink-soft">
            Keep the column “code”. Columns that you delete stay as they are here; a cell that you empty is emptied. You see what changes
            before anything does.
          </p>
          {before && before.state !== "refused" && (
            <p className="mb-2 flex flex-wrap items-center gap-2">
              <span className="min-w-0 break-words">
                “{before.name}” was brought back {when(before.made)}
                {before.state === "reading" ? " and is being compared." : "."}
              </span>
              <Button onClick={() => setChosen(before)}>{before.state === "reading" ? "See how far it is" : "Go on with it"}</Button>
            </p>
          )}
        </section>
      )}
      {table?.state === "reading" && <Comparing table={table} />}
      {table?.state === "refused" && (
        <p role="alert" className="text-tomato">
          {table.why}
        </p>
      )}
      {table?.state === "ready" && <Changes brand={brand} table={table} />}
      {problem && (
        <p role="alert" className="mt-2 text-tomato">
          {problem}
        </p>
      )}
      <div className="mt-3 flex flex-wrap gap-2">
        {table?.state === "ready" && (
          <Button tone="main" disabled={table.changes === 0} onClick={apply}>
            {table.changes === 0 ? "Nothing to change" : `Change ${items(table.changes)}`}
          </Button>
        )}
        <Button icon={<FileUp size={16} />} disabled={!!busy} onClick={() => file.current?.click()}>
          {busy === "in" ? "Sending…" : table ? "Choose another file" : "Choose a file"}
        </Button>
        <input
          ref={file}
          type="file"
          hidden
          accept=".csv,.tsv,.txt,.json,text/csv,application/json"
          aria-label="Table to bring back"
          onChange={(e) => bring(e.target.files?.[0])}
        />
      </div>
    </Dialog>
  );
}

/** useTable keeps a table current while it is compared. */
function useTable(brand: string, chosen?: Table): Table | undefined {
  const { data, error } = useQuery({
    queryKey: ["table", chosen?.id],
    queryFn: () => tableNow(brand, chosen!.id),
    enabled: chosen?.state === "reading",
    refetchInterval: ({ state }) => (state.data && state.data.state !== "reading" ? false : 400),
  });
  if (error && chosen) return { ...chosen, state: "refused", why: messageOf(error) };
  return data ?? chosen;
}

function Comparing({ table }: { table: Table }) {
  return (
    <div role="status">
      <p className="mb-1">
        {table.of === 0
          ? "Reading the table…"
          : `Compared ${table.read.toLocaleString("en-GB")} of ${plural(table.of, "row")} with the library.`}
      </p>
      <progress className="w-full" max={table.of || undefined} value={table.of ? table.read : undefined} aria-label="Rows compared" />
      <p className="mt-1 text-dense text-ink-soft">You can close this. It goes on, and waits for you here.</p>
    </div>
  );
}

const states: { state: State; says: string; about: string }[] = [
  { state: "changes", says: "to change", about: "" },
  { state: "wrong", says: "with something wrong", about: "These rows change nothing. Put them right in the file and choose it again." },
  { state: "unknown", says: "about no item", about: "Nothing here has the code of these rows. Items in the bin are not described." },
  { state: "forbidden", says: "you can’t change", about: "You may look at these items, but not describe them." },
  { state: "same", says: "the same", about: "These rows say what the items say already." },
];

/** Changes shows a table row by row, by what comes of the rows. */
function Changes({ brand, table }: { brand: string; table: Table }) {
  const there = states.filter((s) => table[s.state] > 0);
  const [state, setState] = useState<State>(there[0]?.state ?? "same");
  return (
    <>
      {table.warnings.map((warning) => (
        <p key={warning} className="mb-2 rounded bg-saffron-wash px-2 py-1">
          {warning}
        </p>
      ))}
      {table.newTags.length > 0 && (
        <p className="mb-2">
          New tags: <span className="font-medium">{table.newTags.slice(0, 12).join(", ")}</span>
          {table.newTags.length > 12 && ` and ${table.newTags.length - 12} more`}
        </p>
      )}
      <div className="mb-2 flex flex-wrap gap-1.5" role="group" aria-label="Rows">
        {there.map((s) => (
          <button
            key={s.state}
            type="button"
            aria-pressed={s.state === state}
            className="rounded-full border border-line px-3 py-1 aria-pressed:border-ink aria-pressed:bg-sunk"
            onClick={() => setState(s.state)}
          >
            {table[s.state].toLocaleString("en-GB")} {s.says}
          </button>
        ))}
      </div>
      <p className="mb-1 text-dense text-ink-soft empty:hidden">{states.find((s) => s.state === state)?.about}</p>
      <TableRows key={state} brand={brand} table={table.id} state={state} of={table[state]} />
    </>
  );
}
