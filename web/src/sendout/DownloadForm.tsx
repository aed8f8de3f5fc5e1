import { PackageOpen } from "lucide-react";
import { useEffect, useState } from "react";
import { messageOf, type Schema } from "~/api/client";
import { useDownloads, useOutputSizes, useSatchel } from "~/api/queries";
import { Button } from "~/kit/Button";
import { Switch, TextField } from "~/kit/Field";
import { tell, warn } from "~/kit/notes";
import { bytes, items, plural, when } from "~/kit/words";
import { inOrder, useChosen } from "~/sheet/selection";
import { download, makeAgain, previewDownload } from "./acts";

/** describeSize says what an output size makes. */
export function describeSize(s: Schema["OutputSize"]) {
  const box = s.fit === "fill" ? `${s.width} × ${s.height}, cut to fill` : `up to ${Math.max(s.width, s.height)} pixels on the longer side`;
  const keeps = {
    strip_private: "copyright, credit and usage terms kept, private data stripped",
    strip_all: "all metadata stripped",
    keep: "with all metadata, titles, tags and faces",
  }[s.metadata];
  return `${box}, ${s.format.toUpperCase()}, quality ${s.quality}, ${keeps}, never enlarged`;
}

/** DownloadForm takes what is carried, or else what is selected, along as a ZIP. */
export function DownloadForm({ brand }: { brand: string }) {
  const satchel = useSatchel(brand).data ?? [];
  const selected = useChosen((s) => s.selected);
  const sizes = useOutputSizes(brand).data ?? [];
  const [what, setWhat] = useState<"satchel" | "selection">();
  const [sizeId, setSizeId] = useState<number>();
  const [pattern, setPattern] = useState<string>();
  const [keepFolders, setKeepFolders] = useState(false);
  const source = what ?? (satchel.length > 0 ? "satchel" : "selection");
  const ids = source === "satchel" ? satchel.map((r) => r.id) : inOrder();
  const size = sizes.find((s) => s.id === sizeId) ?? sizes[0];
  const request =
    size && ids.length > 0 ? { selection: { ids }, outputSize: size.id, pattern: pattern ?? size.pattern, keepFolders } : undefined;
  const { preview, problem } = usePreview(brand, request, selected);
  const take = async () => {
    try {
      await download(brand, request!);
      tell(`Making ${plural(ids.length, "file")}. Your ZIP appears below when it is ready.`);
    } catch (error) {
      warn(messageOf(error));
    }
  };
  return (
    <section>
      <h2 className="mb-2 text-lg">Download as ZIP</h2>
      <div className="mb-3 flex gap-4" role="radiogroup" aria-label="Which items">
        <label className="flex items-center gap-1.5">
          <input type="radio" name="what" className="accent-sea" checked={source === "satchel"} onChange={() => setWhat("satchel")} /> the
          satchel ({satchel.length})
        </label>
        <label className="flex items-center gap-1.5">
          <input type="radio" name="what" className="accent-sea" checked={source === "selection"} onChange={() => setWhat("selection")} />
          the selection ({selected.size})
        </label>
      </div>
      <fieldset className="space-y-1">
        <legend className="mb-1 text-dense font-medium text-ink-soft">Output size</legend>
        {sizes.map((s) => (
          <label
            key={s.id}
            className={`flex gap-2 rounded-patch border p-2 ${s.id === size?.id ? "border-saffron bg-saffron-wash" : "border-line"}`}
          >
            <input
              type="radio"
              name="size"
              className="mt-1 accent-sea"
              checked={s.id === size?.id}
              onChange={() => {
                setSizeId(s.id);
                setPattern(undefined);
              }}
            />
            <span>
              <span className="block font-medium">{s.name}</span>
              <span className="block text-small text-ink-soft">{describeSize(s)}</span>
            </span>
          </label>
        ))}
      </fieldset>
      {size && (
        <div className="mt-3 space-y-2">
          <TextField
            label="Names"
            value={pattern ?? size.pattern}
            problem={problem}
            hint="{name} {title} {n} {date} {size} {width} {height}"
            onChange={(e) => setPattern(e.target.value)}
            autoComplete="off"
          />
          <Switch label="Keep the folders" checked={keepFolders} onChange={setKeepFolders} />
        </div>
      )}
      {preview && (
        <ul className="mt-2 max-h-40 overflow-y-auto rounded-patch bg-sunk p-2 text-small" aria-label="Files as they will be made">
          {preview.map((f) => (
            <li key={f.name} className="flex gap-2">
              <span className="min-w-0 flex-1 truncate">{f.name}</span>
              <span className={f.state === "failed" ? "text-tomato" : "text-ink-soft"}>
                {f.state === "failed" ? f.why : `${f.width} × ${f.height}`}
              </span>
            </li>
          ))}
        </ul>
      )}
      <Button tone="strap" className="mt-3" disabled={!request || !!problem} icon={<PackageOpen size={18} />} onClick={() => void take()}>
        {ids.length > 0 ? `Take ${items(ids.length)} as a ZIP` : "Nothing carried or selected yet"}
      </Button>
      <Downloads brand={brand} />
    </section>
  );
}

type Request = Schema["NewDownload"];

/** usePreview asks which files would be made, a moment after something changed. */
function usePreview(brand: string, request: Request | undefined, again: unknown) {
  const [answer, setAnswer] = useState<{ preview?: Schema["DownloadFile"][]; problem?: string }>({});
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
  const again = async (id: number) => {
    try {
      await makeAgain(brand, id);
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
                : `${plural(d.made, "file")} at ${d.outputSize}${d.bytes ? `, ${bytes(d.bytes)}` : ""}`}
              <span className="block text-small text-ink-soft">{when(d.started)}</span>
            </span>
            {d.state === "ready" && (
              <a
                href={`/downloads/${brand}/${d.code}`}
                download
                className="rounded-patch bg-sea px-3 py-1 font-medium text-on-sea hover:bg-sea-deep"
              >
                Save the ZIP
              </a>
            )}
          </div>
          {d.failed > 0 && (
            <div className="mt-1 text-dense text-tomato">
              {d.files
                .filter((f) => f.state === "failed")
                .map((f) => (
                  <p key={f.name}>
                    {f.item}: {f.why}
                  </p>
                ))}
              {d.state !== "making" && <Button onClick={() => void again(d.id)}>Try {d.failed} again</Button>}
            </div>
          )}
        </li>
      ))}
    </ul>
  );
}
