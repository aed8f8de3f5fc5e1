import { CloudOff } from "lucide-react";
import { useConnection } from "~/api/outbox";
import { plural } from "~/kit/words";

/** Away says, above everything, that the server is out of reach and what becomes of what one does meanwhile. */
export function Away() {
  const { away, waiting } = useConnection();
  if (!away && waiting === 0) return null;
  const one = waiting === 1;
  return (
    <div role="status" className="flex shrink-0 flex-wrap items-center gap-x-2 gap-y-1 bg-saffron-wash px-4 py-1.5 text-dense">
      <CloudOff size={16} aria-hidden="true" className="shrink-0" />
      <span className="min-w-0">
        {away ? "No connection to the server." : "Sending what waited."}{" "}
        {waiting > 0
          ? `${plural(waiting, "change")} ${one ? "waits" : "wait"} here and ${one ? "is" : "are"} sent when it is back.`
          : "Stars, keepers, stages and tags can still be given: they are kept here and sent when it is back."}
      </span>
    </div>
  );
}
