import { useId } from "react";
import { useOutletAlbums } from "~/api/queries";
import { Switch, TextArea } from "~/kit/Field";
import { clockIn } from "~/kit/words";
import type { OnPage, Page, PageCheck } from "./dispatching";

/** PageChoice is a page that a dispatch can go to: whether it does, and what differs there. */
export function PageChoice({
  brand,
  page: p,
  on,
  shared,
  check,
  later,
  onChange,
}: {
  brand: string;
  page: Page;
  on: OnPage | undefined;
  shared: string;
  check: PageCheck | undefined;
  later: boolean;
  onChange: (on: OnPage | undefined) => void;
}) {
  const own = on?.caption !== undefined;
  const count = check ? (p.caption ? `${check.count} of ${p.caption} on ${p.name}` : `${check.count} on ${p.name}`) : "";
  return (
    <li
      data-page-choice={p.remote}
      className="rounded-patch border border-line p-2 has-[>label>input:checked]:border-saffron has-[>label>input:checked]:bg-saffron-wash"
    >
      <label className="flex gap-2">
        <input
          type="checkbox"
          className="mt-1 accent-sea"
          checked={on !== undefined}
          onChange={() => onChange(on ? undefined : { album: "", mends: [] })}
        />
        <span>
          <span className="block font-medium">{p.name}</span>
          <span className="block text-small text-plum">Seen by {p.audience}</span>
        </span>
      </label>
      {on && (
        <div className="mt-2 space-y-2 pl-6">
          {count && (
            <p className="text-small text-ink-soft" data-caption-count>
              {count}
              {later && check && ` · ${clockIn(check.wall, check.zone)}`}
            </p>
          )}
          <Switch
            label="Other words there"
            checked={own}
            onChange={(other) => onChange({ album: on.album, mends: on.mends, ...(other ? { caption: shared } : {}) })}
          />
          {own && (
            <TextArea
              label={`Caption on ${p.name}`}
              rows={2}
              value={on.caption}
              onChange={(e) => onChange({ ...on, caption: e.target.value })}
            />
          )}
          {check && check.caption !== (on.caption ?? shared) && <p className="text-small">There it reads: {check.caption}</p>}
          {p.albums && <AlbumThere brand={brand} page={p} album={on.album} onChange={(album) => onChange({ ...on, album })} />}
        </div>
      )}
    </li>
  );
}

/** AlbumThere is an album on the page, one that is there or a new one. */
function AlbumThere({ brand, page, album, onChange }: { brand: string; page: Page; album: string; onChange: (album: string) => void }) {
  const id = useId();
  const albums = useOutletAlbums(brand, page.outletId).data?.filter((a) => a.page === page.remote) ?? [];
  const known = albums.some((a) => a.title === album.trim());
  return (
    <div>
      <label htmlFor={id} className="mb-1 block text-dense font-medium text-ink-soft">
        Album there (optional)
      </label>
      <input
        id={id}
        list={`${id}-albums`}
        value={album}
        maxLength={200}
        className="w-full rounded-patch border border-line-strong bg-card px-2.5 py-1.5 focus:outline-2 focus:outline-sea"
        onChange={(e) => onChange(e.target.value)}
      />
      <datalist id={`${id}-albums`}>
        {albums.map((a) => (
          <option key={a.id} value={a.title} />
        ))}
      </datalist>
      {album.trim() && !known && <p className="mt-1 text-small text-ink-soft">A new album there, made when the pictures arrive.</p>}
    </div>
  );
}
