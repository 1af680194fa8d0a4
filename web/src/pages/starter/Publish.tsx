import { useState } from "react";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { count, when } from "../../lib/format";
import { author } from "../../lib/session";
import { useDeleteHost, usePublications, usePublish, type WebsiteHost } from "../../queries/publishing";
import HostForm from "./HostForm";

/** Puts the website where the world can see it: a folder, a server, a repository. */
export default function Publish({ id, changed }: { id: number; changed: boolean }) {
  const query = usePublications(id);
  const [form, setForm] = useState<WebsiteHost | "new">();
  const found = query.data;
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls must be reachable by keyboard
    <div className="mt-2 min-h-0 flex-1 overflow-y-auto" tabIndex={0}>
      <ErrorNote error={query.error} />
      {changed && <p className="text-acorn">Save first: what is published is the saved website.</p>}
      {form ? (
        <HostForm host={form === "new" ? undefined : form} onDone={() => setForm(undefined)} />
      ) : (
        found && (
          <>
            {found.hosts.length > 0 ? (
              <Order
                key={found.folder}
                id={id}
                hosts={found.hosts}
                folder={found.folder}
                heldBack={found.held_back}
                onEdit={setForm}
              />
            ) : (
              <p className="max-w-xl text-soft">
                A website can be published into a folder here, to a web host by SFTP, or to git.
              </p>
            )}
            <Button
              look={found.hosts.length ? "plain" : "main"}
              className="mt-3"
              onClick={() => setForm("new")}
            >
              Add a host
            </Button>
            {found.publications.length > 0 && (
              <>
                <h2 className="mt-5 text-[15px]">Published</h2>
                <table className="mt-1 w-full max-w-3xl">
                  <thead className="text-left text-soft">
                    <tr>
                      <th className="font-normal">When</th>
                      <th className="font-normal">Host</th>
                      <th className="font-normal">Folder</th>
                      <th className="font-normal">Result</th>
                      <th className="font-normal">By</th>
                    </tr>
                  </thead>
                  <tbody>
                    {found.publications.map((item) => (
                      <tr key={item.id} className="border-t border-line align-top">
                        <td className="py-1 pr-3 whitespace-nowrap">{when(item.begun_at)}</td>
                        <td className="py-1 pr-3">{item.host}</td>
                        <td className="py-1 pr-3 break-all">{item.folder || "–"}</td>
                        <td className={`py-1 pr-3 ${item.finished_at ? "" : "text-alarm"}`}>
                          {item.finished_at
                            ? item.written + item.removed === 0
                              ? "nothing had changed"
                              : `${count(item.written)} files written, ${count(item.removed)} removed`
                            : item.problem || "not finished"}
                        </td>
                        <td className="py-1 text-soft">{item.by}</td>
                      </tr>
                    ))}
                  </tbody>
                </table>
              </>
            )}
          </>
        )
      )}
    </div>
  );
}

interface OrderProps {
  id: number;
  hosts: WebsiteHost[];
  folder: string;
  heldBack: number;
  onEdit: (host: WebsiteHost) => void;
}

function Order({ id, hosts, folder: proposed, heldBack, onEdit }: OrderProps) {
  const publish = usePublish(id);
  const drop = useDeleteHost();
  const [chosen, setChosen] = useState(hosts[0]?.id ?? 0);
  const [folder, setFolder] = useState(proposed);
  const [sure, setSure] = useState(false);
  const host = hosts.find((item) => item.id === chosen) ?? hosts[0];
  const send = (replace: boolean) =>
    host && publish.mutate({ host_id: host.id, folder: folder.trim(), replace, by: author() });
  const theirs = publish.error?.message.includes("not published from here");
  return (
    <>
      <div className="flex flex-wrap items-end gap-3">
        <label>
          <span className="block text-soft">Host</span>
          <select
            value={host?.id}
            onChange={(event) => {
              setChosen(Number(event.target.value));
              setSure(false);
            }}
            className="w-56 box"
          >
            {hosts.map((item) => (
              <option key={item.id} value={item.id}>
                {item.name}
              </option>
            ))}
          </select>
        </label>
        <label>
          <span className="block text-soft">Folder there</span>
          <input value={folder} onChange={(event) => setFolder(event.target.value)} className="w-64 box" />
        </label>
        <Button look="main" disabled={publish.isPending} onClick={() => send(false)}>
          {publish.isPending ? "Publishing …" : "Publish"}
        </Button>
      </div>
      {host && (
        <p className="mt-1 text-soft">
          {host.address}{" "}
          <Button look="quiet" onClick={() => onEdit(host)}>
            Edit
          </Button>
          <Button
            look="quiet"
            disabled={drop.isPending}
            onClick={() => (sure ? drop.mutate(host.id) : setSure(true))}
          >
            {sure ? "Delete it: its files stay where they are" : "Delete"}
          </Button>
        </p>
      )}
      <p className="mt-1 max-w-xl text-soft">
        Questions are left out. Only files that changed are written, and nothing of others is touched.
        {heldBack > 0 &&
          ` ${count(heldBack)} ${heldBack === 1 ? "picture waits" : "pictures wait"} for the owner’s consent.`}
      </p>
      <ErrorNote error={publish.error ?? drop.error} />
      {theirs && (
        <Button className="mt-1" onClick={() => send(true)}>
          Replace those files
        </Button>
      )}
    </>
  );
}
