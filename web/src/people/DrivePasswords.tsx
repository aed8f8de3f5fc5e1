import { HardDrive } from "lucide-react";
import { useState, type FormEvent } from "react";
import { messageOf } from "~/api/client";
import { useDrivePasswords } from "~/api/queries";
import { Button } from "~/kit/Button";
import { Choice, TextField } from "~/kit/Field";
import { copyText } from "~/kit/notes";
import { exactly, when } from "~/kit/words";
import { endDrivePassword, makeDrivePassword } from "./acts";

/** DrivePasswords says how the library is opened as a drive, and makes and takes back one's passwords for it. */
export function DrivePasswords({ brand, email }: { brand: string; email: string }) {
  const { data: all, error } = useDrivePasswords(brand);
  const [name, setName] = useState("");
  const [present, setPresent] = useState("");
  const [days, setDays] = useState(0);
  const [made, setMade] = useState<string>();
  const [problem, setProblem] = useState<string>();
  const make = async (event: FormEvent) => {
    event.preventDefault();
    try {
      setMade(await makeDrivePassword(brand, name, present, days));
      setPresent("");
      setName("");
      setProblem(undefined);
    } catch (failed) {
      setProblem(messageOf(failed));
    }
  };
  const address = `${window.location.origin}/dav/`;
  return (
    <section className="space-y-3" aria-label="The drive" data-drive>
      <h2 className="flex items-center gap-2 text-base">
        <HardDrive size={18} aria-hidden="true" /> The library as a drive
      </h2>
      <p className="text-ink-soft">
        Your computer can open the folders, albums and outlets of this brand as a drive (WebDAV). Copying a file there brings it in, and
        removing one puts it in the bin. Your own password does not open it: make one for each device, and take it back when you no longer
        use that device.
      </p>
      <dl className="grid grid-cols-[auto_1fr] items-baseline gap-x-3 gap-y-1">
        <dt className="text-ink-soft">Address</dt>
        <dd className="flex flex-wrap items-center gap-2">
          <code className="break-all select-all">{address}</code>
          <Button tone="quiet" onClick={() => void copyText(address, "the address of the drive")}>
            Copy
          </Button>
        </dd>
        <dt className="text-ink-soft">Name</dt>
        <dd className="break-all select-all">{email}</dd>
      </dl>
      <form className="flex flex-wrap items-end gap-2" onSubmit={(e) => void make(e)} aria-label="New password for the drive">
        <div className="min-w-48 flex-1">
          <TextField
            label="A password for which device?"
            placeholder="Studio laptop"
            value={name}
            maxLength={100}
            problem={problem}
            onChange={(e) => setName(e.target.value)}
          />
        </div>
        <div className="min-w-40 flex-1">
          <TextField
            label="Your own password"
            type="password"
            autoComplete="current-password"
            value={present}
            onChange={(e) => setPresent(e.target.value)}
          />
        </div>
        <Choice
          label="It works"
          value={days}
          options={[
            { value: 0, label: "until you take it back" },
            { value: 30, label: "for 30 days" },
            { value: 365, label: "for a year" },
          ]}
          onChange={setDays}
        />
        <Button type="submit" disabled={!name.trim() || !present}>
          Make a password
        </Button>
      </form>
      {made && (
        <div role="status" className="rounded-patch bg-saffron-wash p-3">
          <p>Copy it now: it is not shown again.</p>
          <p className="flex flex-wrap items-center gap-2">
            <code className="text-base break-all select-all" data-made>
              {made}
            </code>
            <Button onClick={() => void copyText(made, "the password")}>Copy</Button>
            <Button tone="quiet" onClick={() => setMade(undefined)}>
              Done
            </Button>
          </p>
        </div>
      )}
      {error && <p className="text-tomato">{error.message}</p>}
      {all?.length === 0 && <p className="text-ink-soft">No device opens the drive yet.</p>}
      <ul className="divide-y divide-line" aria-label="Passwords for the drive">
        {all?.map((p) => (
          <li key={p.id} className="flex items-center gap-3 py-2" data-drive-password={p.id}>
            <span className="min-w-0 flex-1">
              <span className="block truncate">{p.name}</span>
              <span className="text-dense text-ink-soft" title={exactly(p.created)}>
                made {when(p.created)}, {p.used ? `opened the drive last ${when(p.used)}` : "not used yet"}
                {p.ends && `, works until ${exactly(p.ends)}`}
              </span>
            </span>
            <Button onClick={() => void endDrivePassword(brand, p.id)}>Take it back</Button>
          </li>
        ))}
      </ul>
    </section>
  );
}
