import type { Schema } from "~/api/client";
import { useOutletAlbums, useOutletMedia } from "~/api/queries";
import { when } from "~/kit/words";

/** PageContent shows what is on a page, arranged as it is there: album by album. What others posted is told apart. */
export function PageContent({ brand, page }: { brand: string; page: Schema["Page"] }) {
  const { data: albums, error } = useOutletAlbums(brand, page.outletId);
  const here = albums?.filter((a) => a.page === page.remote);
  return (
    <div className="mt-3 space-y-4 border-t border-line pt-3" data-content>
      {error && (
        <p role="alert" className="text-tomato">
          {error.message}
        </p>
      )}
      {!albums && !error && <p className="text-ink-soft">Asking what is there…</p>}
      {here?.length === 0 && <p className="text-ink-soft">Nothing is there yet.</p>}
      {here?.map((a) => (
        <OneAlbum key={a.id} brand={brand} outlet={page.outletId} album={a} />
      ))}
    </div>
  );
}

const shownAtOnce = 24;

function OneAlbum({ brand, outlet, album }: { brand: string; outlet: number; album: Schema["OutletAlbum"] }) {
  const { data: media, error } = useOutletMedia(brand, outlet, album.id);
  const others = media?.filter((m) => !m.own).length ?? 0;
  return (
    <section aria-label={album.title}>
      <h3 className="mb-1 text-dense">
        {album.title}{" "}
        <span className="text-ink-soft">
          {album.count}
          {others > 0 && `, ${others} of them by others`}
        </span>
      </h3>
      {error && <p className="text-tomato">{error.message}</p>}
      <ul className="flex flex-wrap gap-2">
        {media?.slice(0, shownAtOnce).map((m) => (
          <li key={m.id} className="w-28">
            <img
              src={`/api/brands/${brand}/outlets/${outlet}/media/${encodeURIComponent(m.id)}/picture`}
              alt={m.caption}
              loading="lazy"
              className={`h-20 w-28 rounded object-cover ${m.own ? "" : "opacity-60"}`}
            />
            <span className="block truncate text-small" title={m.caption}>
              {m.caption || m.fileName}
            </span>
            <span className="block truncate text-small text-ink-soft">
              {m.asset ? "in the library" : m.own ? when(m.posted) : `by ${m.postedBy}`}
            </span>
          </li>
        ))}
      </ul>
      {(media?.length ?? 0) > shownAtOnce && <p className="text-small text-ink-soft">and {media!.length - shownAtOnce} more there</p>}
    </section>
  );
}
