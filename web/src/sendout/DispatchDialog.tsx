import { RefreshCw } from "lucide-react";
import { useEffect, useMemo, useState } from "react";
import { messageOf, type Schema, type Selection } from "~/api/client";
import { useBrandSettings, useDispatchCheck, usePages } from "~/api/queries";
import { Button } from "~/kit/Button";
import { Dialog } from "~/kit/Dialog";
import { Choice, Switch, TextArea, TextField } from "~/kit/Field";
import { items, plural } from "~/kit/words";
import { keepDraft, refreshPages, sendDispatch } from "./acts";
import { DispatchCheck } from "./DispatchCheck";
import { DispatchOrder } from "./DispatchOrder";
import {
  audience,
  draftOf,
  emptyDraft,
  mended,
  rehearsedDraft,
  wanted,
  type Draft,
  type Mend,
  type OnPage,
  type PageCheck,
} from "./dispatching";
import { PageChoice } from "./PageChoice";

/** DispatchDialog sends items to pages: where, with which words, when; what a page does not take is mended before "go". */
export function DispatchDialog({
  brand,
  selection,
  count,
  caption = "",
  from,
  rehearsal,
  draft: kept,
  onClose,
}: {
  brand: string;
  selection: Selection;
  count: number;
  caption?: string;
  /** A post that is out and can be taken back, where these items are to be sent on from. */
  from?: { id: number; page: string } | undefined;
  /** The rehearsal that it follows from, and the page that it is given to. */
  rehearsal?: { id: number; page: number };
  /** A draft that was kept, to be gone on with. */
  draft?: Schema["Draft"];
  onClose: () => void;
}) {
  const pages = usePages(brand).data;
  const second = useBrandSettings(brand).data?.secondGo;
  const [draft, setDraft] = useState<Draft>(kept ? draftOf(kept) : { ...emptyDraft, caption, ...rehearsedDraft(rehearsal) });
  const [problem, setProblem] = useState<string>();
  const [busy, setBusy] = useState(false);
  useEffect(() => void refreshPages(brand), [brand]);
  const none = pages?.length === 0;
  useEffect(() => {
    if (!none) return;
    const timer = setInterval(() => void refreshPages(brand), 10_000); // an outlet may have been away for a moment
    return () => clearInterval(timer);
  }, [brand, none]);
  const asked = useMemo(() => wanted(selection, draft), [selection, draft]);
  const to = pages?.filter((p) => p.id in draft.pages) ?? [];
  const checked = useDispatchCheck(brand, useLater(asked, 250), to.length > 0 && (draft.when !== "at" || !!draft.at));
  const check = to.length > 0 ? checked.data : undefined;
  const ofPage = (page: number) => check?.pages.find((p) => p.page === page);
  const change = (page: number, on: OnPage | undefined) => {
    const next = { ...draft.pages };
    if (on) next[page] = on;
    else delete next[page];
    setDraft({ ...draft, pages: next });
  };
  const mend = (mends: { page: number; mend: Mend }[]) => {
    const next = { ...draft.pages };
    for (const m of mends) if (next[m.page]) next[m.page] = { ...next[m.page]!, mends: mended(next[m.page]!.mends, [m.mend]) };
    setDraft({ ...draft, pages: next });
  };
  const open = check?.pages.flatMap((p) => p.findings.filter((f) => f.hinders)).length ?? 0;
  const ready = to.length > 0 && open === 0 && (draft.when !== "at" || !!draft.at);
  const go = () => attempt(() => sendDispatch(brand, asked));
  const keep = () => attempt(() => keepDraft(brand, kept, asked, to));
  const attempt = async (what: () => Promise<unknown>) => {
    setBusy(true);
    setProblem(undefined);
    try {
      await what();
      onClose();
    } catch (error) {
      setProblem(messageOf(error));
      setBusy(false);
    }
  };
  const what = `${count.toLocaleString("en-GB")} to ${plural(Math.max(1, to.length), "page")}`;
  return (
    <Dialog wide title={`Send ${items(count)} to pages`} about="Nothing leaves before you press the last button." onClose={onClose}>
      <div className="space-y-4" data-dispatch>
        <TextArea
          label="Caption"
          rows={3}
          value={draft.caption}
          hint="{title}, {credit} and {tags} are filled with what the items say."
          onChange={(e) => setDraft({ ...draft, caption: e.target.value })}
        />
        {check && check.order.length > 1 && (
          <DispatchOrder brand={brand} ids={draft.order ?? check.order} onOrder={(order) => setDraft((before) => ({ ...before, order }))} />
        )}
        <section aria-label="Where">
          <header className="mb-1 flex items-center gap-2">
            <h3 className="flex-1 text-base">Where</h3>
            <Button tone="quiet" icon={<RefreshCw size={16} />} onClick={() => void refreshPages(brand)}>
              Ask the outlets again
            </Button>
          </header>
          {none && <p className="text-ink-soft">No page is connected. A steward connects an account under Outlets, on Send out.</p>}
          <ul className="space-y-1">
            {pages?.map((p) => (
              <PageChoice
                key={p.id}
                brand={brand}
                page={p}
                on={draft.pages[p.id]}
                shared={draft.caption}
                check={ofPage(p.id)}
                later={draft.when !== "now"}
                onChange={(on) => change(p.id, on)}
              />
            ))}
          </ul>
        </section>
        <div className="flex flex-wrap items-end gap-3">
          <div className="w-56">
            <Choice
              label="When"
              value={draft.when}
              options={[
                { value: "now", label: "now" },
                { value: "at", label: "at a time" },
                { value: "slot", label: "at the next free moment" },
              ]}
              onChange={(when) => setDraft({ ...draft, when })}
            />
          </div>
          {draft.when === "at" && (
            <div className="w-64">
              <TextField
                label="Day and time, on each page’s clock"
                type="datetime-local"
                value={draft.at}
                onChange={(e) => setDraft({ ...draft, at: e.target.value })}
              />
            </div>
          )}
          {draft.when === "slot" && (
            <p className="flex-1 text-small text-ink-soft">By the rhythm of each page, which is set under Outlets.</p>
          )}
        </div>
        {from && (
          <Switch
            label={`Move it: take it back from ${from.page} once it is out here`}
            checked={draft.moves !== undefined}
            onChange={(move) => setDraft({ ...draft, moves: move ? from.id : undefined })}
          />
        )}
        {to.length > 0 && (
          <DispatchCheck
            brand={brand}
            pages={to}
            check={check}
            error={checked.error}
            mendsOf={(page) => draft.pages[page]?.mends ?? []}
            onMend={mend}
          />
        )}
        {problem && (
          <p role="alert" className="text-tomato">
            {problem}
          </p>
        )}
        <div className="flex flex-wrap items-center gap-3 border-t border-line pt-3">
          <Button tone="strap" disabled={busy || !ready} onClick={() => void go()}>
            {second ? `Ask for “go”: ${what}` : `${draft.when === "now" ? "Send" : "Plan"} ${what}`}
          </Button>
          <Button disabled={busy} onClick={() => void keep()}>
            Keep as a draft
          </Button>
          <p className="min-w-48 flex-1 text-small text-plum">
            {to.length > 0 ? audience(to) : "Choose at least one page."}
            {posts(check?.pages) > to.length && ` ${posts(check?.pages)} posts.`}
            {open > 0 && ` ${plural(open, "thing")} to mend first.`}
            {second && ready && " Somebody else says “go”."}
          </p>
        </div>
      </div>
    </Dialog>
  );
}

const posts = (pages: PageCheck[] | undefined) => pages?.reduce((n, p) => n + p.posts, 0) ?? 0;

/** useLater is a value once it has not changed for some milliseconds. */
function useLater<T>(value: T, ms: number): T {
  const [later, setLater] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setLater(value), ms);
    return () => clearTimeout(timer);
  }, [value, ms]);
  return later;
}
