import { Link } from "@tanstack/react-router";
import { ExternalLink, Plug, RefreshCw } from "lucide-react";
import { useEffect, useState, type FormEvent } from "react";
import type { Me, Schema } from "~/api/client";
import { useOutlets, useOutletServices, usePages } from "~/api/queries";
import { Button } from "~/kit/Button";
import { Choice, Switch, TextField } from "~/kit/Field";
import { when } from "~/kit/words";
import { connectByToken, connectOutlet, copyOutlet, disconnectOutlet, refreshPages } from "./acts";
import { PageContent } from "./PageContent";
import { PageRhythm } from "./PageRhythm";

type Account = Schema["Outlet"];
type Page = Schema["Page"];

/** What can go wrong on the way back from a service, by the field that the server names. */
const problems: Record<string, string> = {
  code: "Bright Satchel was not let in there, so nothing was connected.",
  token: "The service did not take what it had given. Connect the account again.",
  address: "The service does not answer now. Nothing was changed; try again later.",
};

/** OutletsPage lists the accounts that are connected, with their pages: who sees them, what they take, and what is there. */
export function OutletsPage({ me, connected, problem }: { me: Me; connected: number | undefined; problem: string | undefined }) {
  const brand = me.brand;
  const may = me.can.includes("settings");
  const { data: accounts, error } = useOutlets(brand);
  const pages = usePages(brand).data;
  const [asking, setAsking] = useState(false);
  const refresh = async () => {
    setAsking(true);
    await refreshPages(brand);
    setAsking(false);
  };
  useEffect(() => void refreshPages(brand), [brand]);
  return (
    <div className="min-h-0 flex-1 overflow-y-auto" data-page="outlets">
      <div className="stitch-b flex flex-wrap items-center gap-3 px-4 py-2">
        <h1 className="flex-1 text-lg">Outlets</h1>
        {!!accounts?.length && (
          <Button icon={<RefreshCw size={16} />} disabled={asking} onClick={() => void refresh()}>
            Ask all again
          </Button>
        )}
        <Link to="/b/$brand/dispatches" params={{ brand }} className="text-sea underline">
          Dispatches
        </Link>
      </div>
      <div className="space-y-6 page-column">
        {connected && (
          <p role="status" className="rounded-patch bg-saffron-wash px-3 py-2">
            {accounts?.find((a) => a.id === connected)?.name ?? "The account"} is connected.
          </p>
        )}
        {problem && (
          <p role="alert" className="rounded-patch border border-tomato px-3 py-2 text-tomato">
            {problems[problem] ?? "The account could not be connected. Try again."}
          </p>
        )}
        {error && <p className="text-tomato">{error.message}</p>}
        {!accounts && !error && <p className="text-ink-soft">Loading…</p>}
        {accounts?.length === 0 && (
          <p className="text-ink-soft">
            No account is connected yet. Once one is, selections can be sent to its pages, and what is there can be brought in.
            {!may && " A steward of the brand connects it."}
          </p>
        )}
        {accounts?.map((a) => (
          <OneAccount key={a.id} brand={brand} account={a} pages={pages?.filter((p) => p.outletId === a.id) ?? []} may={may} />
        ))}
        {may && <Connect brand={brand} />}
      </div>
    </div>
  );
}

function OneAccount({ brand, account: a, pages, may }: { brand: string; account: Account; pages: Page[]; may: boolean }) {
  const [leaving, setLeaving] = useState(false);
  return (
    <section aria-label={a.name} data-outlet={a.standing}>
      <header className="mb-2 flex flex-wrap items-center gap-2">
        <h2 className="min-w-40 flex-1 text-base">
          {a.name} <span className="text-small text-ink-soft">{a.service}</span>
        </h2>
        {may && a.standing === "again" && (
          <Button tone="strap" onClick={() => void connectOutlet(brand, a.kind)}>
            Connect again
          </Button>
        )}
        {may && !leaving && (
          <Button tone="quiet" onClick={() => setLeaving(true)}>
            Disconnect…
          </Button>
        )}
      </header>
      {leaving && (
        <div className="mb-2 flex flex-wrap items-center gap-2 rounded-patch border border-line bg-card p-2">
          <p className="min-w-56 flex-1">
            What is out there stays there, and the {a.items} items that came from it stay here. What is planned for its pages is not sent.
          </p>
          <Button tone="danger" onClick={() => void disconnectOutlet(brand, a.id)}>
            Disconnect it
          </Button>
          <Button onClick={() => setLeaving(false)}>Keep it</Button>
        </div>
      )}
      {a.trouble ? (
        <p className="mb-2 text-small text-tomato">{a.trouble}</p>
      ) : (
        a.asked && <p className="mb-2 text-small text-ink-soft">Asked {when(a.asked)}.</p>
      )}
      <div className="mb-2">
        <Switch label="Keep a copy of everything of our own there" checked={a.copied} onChange={(on) => void copyOutlet(brand, a.id, on)} />
        {a.copied && (
          <p className="text-small text-ink-soft">
            Within the hour what is new there is in the folder “{a.name}”, arranged as it is there. What others posted stays there.
          </p>
        )}
      </div>
      <ul className="space-y-2">
        {pages.map((p) => (
          <OnePage key={p.id} brand={brand} page={p} may={may} />
        ))}
      </ul>
    </section>
  );
}

function OnePage({ brand, page: p, may }: { brand: string; page: Page; may: boolean }) {
  const [open, setOpen] = useState<"content" | "rhythm">();
  const toggle = (what: "content" | "rhythm") => setOpen(open === what ? undefined : what);
  return (
    <li className="rounded-xl border border-line bg-card p-3" data-of={p.remote}>
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
        {p.picture && (
          <img
            src={`/api/brands/${brand}/outlets/${p.outletId}/media/${encodeURIComponent(p.picture)}/picture`}
            alt=""
            loading="lazy"
            className="size-10 rounded-full object-cover"
          />
        )}
        <p className="min-w-48 flex-1">
          <span className="block font-medium">{p.name}</span>
          <span className="block text-small text-plum">Seen by {p.audience}</span>
        </p>
        {p.address && (
          <a href={p.address} target="_blank" rel="noreferrer" className="inline-flex items-center gap-1 text-plum underline">
            <ExternalLink size={16} aria-hidden="true" /> Look at it
          </a>
        )}
        <Button aria-expanded={open === "rhythm"} onClick={() => toggle("rhythm")}>
          Rhythm
        </Button>
        <Button aria-expanded={open === "content"} onClick={() => toggle("content")}>
          {open === "content" ? "Fold away" : "What is there"}
        </Button>
      </div>
      <p className="mt-1 text-small text-ink-soft">
        Takes {p.limits.join(", ")}.{p.zone && ` Its times are those of ${p.zone.replaceAll("_", " ")}.`}
      </p>
      {open === "content" && <PageContent brand={brand} page={p} />}
      {open === "rhythm" && <PageRhythm brand={brand} page={p} may={may} />}
    </li>
  );
}

function Connect({ brand }: { brand: string }) {
  const services = useOutletServices(brand).data;
  const [by, setBy] = useState({ kind: "windward", name: "", address: "", token: "" });
  const [problem, setProblem] = useState<string>();
  const connect = async (event: FormEvent) => {
    event.preventDefault();
    setProblem(undefined);
    const wrong = await connectByToken(brand, by);
    if (wrong) setProblem(wrong);
    else setBy({ ...by, name: "", address: "", token: "" });
  };
  return (
    <section aria-label="Connect an account" className="border-t border-line pt-4">
      <h2 className="mb-2 text-base">Connect an account</h2>
      {services?.length === 0 && (
        <p className="mb-2 text-ink-soft">This server is registered at no service. Whoever runs it does that with SATCHEL_SERVICES.</p>
      )}
      <p className="mb-3 flex flex-wrap gap-2">
        {services?.map((s) => (
          <Button key={s.kind} icon={<Plug size={16} />} onClick={() => void connectOutlet(brand, s.kind)}>
            An account at {s.name}…
          </Button>
        ))}
      </p>
      {services && services.length > 0 && (
        <p className="mb-3 text-small text-ink-soft">
          You go there, say which account it is, and come back. To connect another account at the same service, do it again.
        </p>
      )}
      <details>
        <summary className="cursor-pointer text-small text-sea">With an access token from the service</summary>
        <form className="mt-2 grid grid-cols-[10rem_1fr_1fr_1fr_auto] items-end gap-2 max-md:grid-cols-1" onSubmit={(e) => void connect(e)}>
          <Choice
            label="Service"
            value={by.kind}
            options={[
              { value: "windward", label: "Windward" },
              { value: "longtable", label: "Longtable" },
              { value: "beanpole", label: "Beanpole" },
            ]}
            onChange={(kind) => setBy({ ...by, kind })}
          />
          <TextField label="What to call it" value={by.name} onChange={(e) => setBy({ ...by, name: e.target.value })} />
          <TextField
            label="Address"
            value={by.address}
            placeholder="https://"
            onChange={(e) => setBy({ ...by, address: e.target.value })}
          />
          <TextField
            label="Access token"
            type="password"
            autoComplete="off"
            value={by.token}
            onChange={(e) => setBy({ ...by, token: e.target.value })}
          />
          <Button type="submit" disabled={!by.name.trim() || !by.address.trim()}>
            Connect
          </Button>
        </form>
        {problem && (
          <p role="alert" className="mt-2 text-tomato">
            {problem}
          </p>
        )}
      </details>
    </section>
  );
}
