import { useState } from "react";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { Loading } from "../../components/Loading";
import ShownOnce from "../../components/ShownOnce";
import { when } from "../../lib/format";
import { type Account, useMakeLink, useMe, useTeam } from "../../queries/team";
import Nav from "../agency/Nav";
import AccountForm from "./AccountForm";
import AssignmentRules from "./AssignmentRules";
import FirstOwner from "./FirstOwner";

export const ROLES: Record<string, string> = {
  owner: "Owner",
  manager: "Manager",
  caller: "Caller",
  viewer: "Viewer",
};

/** Who works here, and what each may do. */
export default function TeamPage() {
  const me = useMe();
  return (
    <div className="flex h-full">
      <Nav title="Team" />
      {/* biome-ignore lint/a11y/noNoninteractiveTabindex: a region that scrolls must be reachable by keyboard */}
      <section aria-label="Team" tabIndex={0} className="min-w-0 flex-1 overflow-y-auto px-6 py-4">
        <h1 className="text-lg">Team</h1>
        {me.data && (me.data.accounts ? <People /> : <FirstOwner />)}
      </section>
    </div>
  );
}

function People() {
  const team = useTeam();
  const link = useMakeLink();
  const [form, setForm] = useState<Account | "new">();
  const [invited, setInvited] = useState({ link: "", mailed: "" });
  const found = team.data;
  if (!found) return team.isPending ? <Loading /> : <ErrorNote error={team.error} />;
  return (
    <>
      <p className="max-w-2xl text-soft">
        Everybody signs in with their own account. A role says what somebody may do; you can also choose it
        line by line.
      </p>
      {invited.link && (
        <ShownOnce
          words={
            invited.mailed === "sent"
              ? "The invitation was sent by e-mail. You can also hand over this link; it works once, for two days."
              : "Send this link to them yourself. It works once, for two days."
          }
          text={invited.link}
          onDone={() => setInvited({ link: "", mailed: "" })}
        />
      )}
      {invited.mailed && invited.mailed !== "sent" && <p className="mt-1 text-alarm">{invited.mailed}</p>}
      {form ? (
        <AccountForm
          key={form === "new" ? 0 : form.id}
          account={form === "new" ? undefined : form}
          team={found}
          onDone={(answer) => {
            setForm(undefined);
            if (answer?.link) setInvited({ link: answer.link, mailed: answer.mailed ?? "" });
          }}
        />
      ) : (
        <Button className="mt-3" look="main" onClick={() => setForm("new")}>
          Invite somebody
        </Button>
      )}
      <ErrorNote error={link.error} />
      <table className="mt-4 w-full max-w-4xl">
        <thead className="text-left text-soft">
          <tr>
            <th className="font-normal">Name</th>
            <th className="font-normal">E-mail address</th>
            <th className="font-normal">Role</th>
            <th className="font-normal">One-time codes</th>
            <th className="font-normal">Last here</th>
            <th>
              <span className="sr-only">Actions</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {found.people.map((one) => (
            <tr key={one.id} className="border-t border-line align-top">
              <td className="py-1.5 pr-3 font-medium">{one.name}</td>
              <td className="py-1.5 pr-3">{one.email}</td>
              <td className="py-1.5 pr-3">
                {ROLES[one.role]}
                {one.own_permissions && <span className="text-soft"> · own list</span>}
                {!one.active && <span className="text-alarm"> · switched off</span>}
              </td>
              <td className="py-1.5 pr-3 text-soft">{one.codes ? "on" : "off"}</td>
              <td className="py-1.5 pr-3 text-soft">
                {one.waiting ? "has no password yet" : one.seen_at ? when(one.seen_at) : "never"}
              </td>
              <td className="py-0.5 text-right whitespace-nowrap">
                <Button look="quiet" onClick={() => setForm(one)}>
                  Edit
                </Button>
                {one.active && (
                  <Button
                    look="quiet"
                    onClick={() =>
                      link.mutate(one.id, {
                        onSuccess: (answer) =>
                          setInvited({ link: answer.link ?? "", mailed: answer.mailed ?? "" }),
                      })
                    }
                  >
                    New password link
                  </Button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <AssignmentRules />
    </>
  );
}
