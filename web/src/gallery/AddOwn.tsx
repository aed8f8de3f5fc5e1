import { Upload } from "lucide-react";
import { useRef, useState } from "react";
import { messageOf } from "~/api/client";
import { announce, sendFile } from "./acts";
import { useDoing, useTalk } from "./talk";
import { fill, words } from "./words";

interface Sent {
  name: string;
  state: "waiting" | "sending" | "sent" | "refused";
  why?: string;
}

/** What a guest may want to do something about. */
const bad = new Set(["refused", "not_sent"]);

/** AddOwn lets a guest add pictures of their own: chosen, agreed to be used, and sent one after the other. */
export function AddOwn({ code, brand, className }: { code: string; brand: string; className: string }) {
  const doing = useDoing();
  const added = useTalk(code)?.added ?? [];
  const [agreed, setAgreed] = useState(false);
  const [sent, setSent] = useState<Sent[]>([]);
  const [problem, setProblem] = useState<string>();
  const chooser = useRef<HTMLInputElement>(null);
  const send = (chosen: File[]) =>
    doing(async () => {
      setProblem(undefined);
      try {
        const { files } = await announce(code, chosen, agreed);
        setSent(files.map((f) => ({ name: f.name, state: f.state === "waiting" ? "waiting" : "refused", why: f.why })));
        for (const [i, f] of files.entries()) {
          const file = chosen[i];
          if (f.state !== "waiting" || !file) continue;
          const now = (part: Partial<Sent>) => setSent((all) => all.map((s, at) => (at === i ? { ...s, ...part } : s)));
          now({ state: "sending" });
          try {
            await sendFile(code, f.code, file);
            now({ state: "sent" });
          } catch (error) {
            now({ state: "refused", why: messageOf(error) });
          }
        }
      } catch (error) {
        setSent([]);
        if (messageOf(error) === "") return;
        setProblem(messageOf(error));
        throw error;
      }
    });
  const done = sent.filter((s) => s.state === "sent").length;
  return (
    <section aria-label={words.addOwn} className="mx-auto max-w-6xl space-y-2 px-5 py-6" data-add-own>
      <h2 className="text-xl">{words.addOwn}</h2>
      <p className="text-ink-soft">{fill(words.addWhy, { brand })}</p>
      <label className="flex items-start gap-2">
        <input type="checkbox" className="mt-1 size-4 accent-sea" checked={agreed} onChange={(e) => setAgreed(e.target.checked)} />
        <span>{fill(words.agree, { brand })}</span>
      </label>
      <input
        ref={chooser}
        type="file"
        multiple
        accept="image/*,video/*"
        className="sr-only"
        tabIndex={-1}
        aria-label={words.chooseFiles}
        onChange={(e) => {
          const chosen = [...(e.target.files ?? [])];
          e.target.value = "";
          if (chosen.length) send(chosen);
        }}
      />
      <button type="button" className={`${className} disabled:opacity-50`} disabled={!agreed} onClick={() => chooser.current?.click()}>
        <Upload size={18} aria-hidden="true" /> {words.chooseFiles}
      </button>
      {problem && (
        <p role="alert" className="text-tomato">
          {problem}
        </p>
      )}
      <div role="status">
        {sent.length > 0 && <p>{fill(words.sentOf, { n: done, of: sent.length })}</p>}
        <ul>
          {sent
            .filter((s) => s.state === "refused")
            .map((s) => (
              <li key={s.name} className="text-tomato">
                {s.name}: {s.why}
              </li>
            ))}
        </ul>
      </div>
      {added.length > 0 && (
        <ul className="max-h-72 space-y-0.5 overflow-y-auto" data-added={added.length}>
          {added.map((f, i) => (
            <li key={`${i} ${f.name}`} className="break-words" data-came={f.came}>
              {f.name}: <span className={bad.has(f.came) ? "text-tomato" : "text-ink-soft"}>{fill(words[f.came], { brand })}</span>
              {f.why && <span className="text-tomato"> ({f.why})</span>}
            </li>
          ))}
        </ul>
      )}
    </section>
  );
}
