import { PackageOpen } from "lucide-react";
import { useEffect, useState } from "react";
import { messageOf, type Schema } from "~/api/client";
import { useDownloads, useSatchel, useSendingCheck } from "~/api/queries";
import { Button } from "~/kit/Button";
import { tell, warn } from "~/kit/notes";
import { bytes, items, plural, when } from "~/kit/words";
import { makeFiles } from "~/sheet/acts";
import { FilesToMake, useFilesWanted } from "~/sheet/FilesWanted";
import { LeavingCheck } from "~/sheet/LeavingCheck";
import { asSelection, selectThese, useChosen, useCount } from "~/sheet/selection";
import { makeAgain, previewDownload, stopMaking } from "./acts";

/** DownloadForm takes what is carried, or else what is selected, along: as a ZIP, or into a folder on the server. What is found out about
 * the files comes below the button, for it comes late and would move the button away from under the hand. */
export function DownloadForm({ brand }: { brand: string }) {
  const satchel = useSatchel(brand).data ?? [];
  const selected = useChosen((s) => s.selected);
  const selectedItems = useCount();
  const [what, setWhat] = useState<"satchel" | "selection">();
  const { wanted, change } = useFilesWanted(brand);
  const source = what ?? (satchel.length > 0 ? "satchel" : "selection");
  const count = source === "satchel" ? satchel.length : selectedItems;
  const selection = source === "satchel" ? { ids: satchel.map((r) => r.id) } : asSelection();
  const request = wanted && count > 0 ? { ...wanted, selection } : undefined;
  const check = useSendingCheck(brand, count > 0 ? selection : undefined).data;
  const { preview, problem } = usePreview(brand, request, selected);
  const files = count * (wanted?.outputSizes.length ?? 1);
  const where = wanted?.serverFolder === undefined ? "as a ZIP" : "to the server";
  const take = async () => {
    try {
      await makeFiles(brand, request!);
      tell(`Making ${plural(files, "file")}. How far it is stays in sight below.`);
    } catch (error) {
      warn(messageOf(error));
    }
  };
  return (
    <section>
      <h2 className="mb-2 text-lg">Take along</h2>
      <div className="mb-3 flex gap-4" role="radiogroup" aria-label="Which items">
        <label className="flex items-center gap-1.5">
          <input type="radio" name="what" className="accent-sea" checked={source === "satchel"} onChange={() => setWhat("satchel")} /> the
          satchel ({satchel.length})
        </label>
        <label className="flex items-center gap-1.5">
          <input type="radio" name="what" className="accent-sea" checked={source === "selection"} onChange={() => setWhat("selection")} />
          the selection ({selectedItems})
        </label>
      </div>
      {wanted && <FilesToMake brand={brand} wanted={wanted} problem={problem} onChange={change} />}
      <Button tone="strap" className="mt-3" disabled={!request || !!problem} icon={<PackageOpen size={18} />} onClick={() => void take()}>
        {count === 0
          ? "Nothing carried or selected yet"
          : `Take ${items(count)} ${files === count ? where : `in ${plural(wanted!.outputSizes.length, "size")} ${where}`}`}
      </Button>
      {preview && (
        <ul className="mt-2 max-h-40 overflow-y-auto rounded-patch bg-sunk p-2 text-small" aria-label="Files as they will be made">
          {preview.files.map((f) => (
            <li key={f.name} className="flex gap-2">
              <span className="min-w-0 flex-1 truncate" title={f.name}>
                {f.name}
              </span>
              <span className={f.state === "failed" ? "text-tomato" : "text-ink-soft"}>
                {f.state === "failed" ? f.why : `${f.width} × ${f.height}`}
              </span>
            </li>
          ))}
          {preview.total > preview.files.length && (
            <li className="text-ink-soft">and {plural(preview.total - preview.files.length, "more file")}</li>
          )}
        </ul>
      )}
      {count > 0 && (
        <div className="mt-3">
          <LeavingCheck check={check} onSelect={selectThese} />
        </div>
      )}
      <Downloads brand={brand} />
    </section>
  );
}

type Request = Schema["NewDownload"];

/** usePreview asks which files would be made, a moment after something changed. */
function usePreview(brand: string, request: Request | undefined, again: unknown) {
  const [answer, setAnswer] = useState<{ preview?: Schema["DownloadPreview"]; problem?: string }>({});
  const text = JSON.stringify(request);
  useEffect(() => {
    let stale = false;
    const timer = setTimeout(() => {
      if (!text) {
        setAnswer({});
        return;
      }
      previewDownload(brand, JSON.parse(text) as Request).then(
        (preview) => !stale && setAnswer({ preview }),
        (error) => !stale && setAnswer({ problem: messageOf(error) }),
      );
    }, 200);
    return () => {
      stale = true;
      clearTimeout(timer);
    };
  }, [brand, text, again]);
  return answer;
}

function Downloads({ brand }: { brand: string }) {
  const downloads = useDownloads(brand).data;
  const attempt = async (what: Promise<unknown>) => {
    try {
      await what;
    } catch (error) {
      warn(messageOf(error));
    }
  };
  if (!downloads?.length) return null;
  return (
    <ul className="mt-4 space-y-2 border-t border-line pt-3" aria-label="My downloads">
      {downloads.slice(0, 5).map((d) => (
        <li key={d.id} data-download={d.state}>
          <div className="flex items-center gap-2">
            <span className="min-w-0 flex-1">
              {d.state === "making"
                ? `Making ${d.made} of ${d.total}`
                : `${plural(d.made, "file")} at ${d.outputSizes.join(", ")}${d.bytes ? `, ${bytes(d.bytes)}` : ""}`}
              <span className="block text-small text-ink-soft">
                {d.place && `in “${d.place}” / ${d.path}, `}
                {d.state === "stopped" && `stopped at ${d.made} of ${d.total}, `}
                {when(d.started)}
              </span>
            </span>
            {d.state === "making" && (
              <Button tone="quiet" onClick={() => void attempt(stopMaking(brand, d.id))}>
                Stop
              </Button>
            )}
            {d.place === "" && d.state !== "failed" && (
              <a
                href={`/downloads/${brand}/${d.code}`}
                download
                title={d.state === "making" ? "It begins with what is made, and goes on as the rest is" : undefined}
                className="rounded-patch bg-sea px-3 py-1 font-medium text-on-sea hover:bg-sea-deep"
              >
                Save the ZIP
              </a>
            )}
          </div>
          {d.failed > 0 && (
            <div className="mt-1 text-dense text-tomato">
              {d.failures.map((f) => (
                <p key={f.name}>
                  {f.item}: {f.why}
                </p>
              ))}
              {d.failed > d.failures.length && <p>and {d.failed - d.failures.length} more</p>}
            </div>
          )}
          {d.state !== "making" && d.made < d.total && (
            <Button onClick={() => void attempt(makeAgain(brand, d.id))}>
              {d.failed > 0 ? `Try ${d.total - d.made} again` : `Make the other ${d.total - d.made}`}
            </Button>
          )}
        </li>
      ))}
    </ul>
  );
}
