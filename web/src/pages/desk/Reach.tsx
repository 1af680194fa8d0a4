import type { Business } from "../../api/client";
import { Phone } from "../../components/Phone";
import { host, when } from "../../lib/format";
import { webAddress } from "../../lib/link";
import { useMay } from "../../queries/team";

/** Channels, people and every contact found, each with where. */
export default function Reach({ business }: { business: Business }) {
  const shown = useMay("people");
  return (
    <section aria-label="Ways to reach them">
      <h3 className="mt-5 mb-1 border-b border-line pb-0.5">Ways to reach them</h3>
      {!shown && (
        <p className="text-soft">Names, numbers and addresses are hidden: your account does not show them.</p>
      )}
      {business.channels.length === 0 && (
        <p className="text-soft">None found: no phone listed, no address on the website.</p>
      )}
      <ul>
        {business.channels.map((channel) => (
          <li key={channel.kind} className="flex justify-between gap-2 py-0.5">
            <span className={`min-w-0 truncate ${channel.assumed ? "text-soft italic" : ""}`}>
              <Phone number={channel.value} />
            </span>
            <span className="text-soft">
              {channel.kind}, {Math.round(channel.chance * 100)} %
            </span>
          </li>
        ))}
      </ul>
      {business.people.length > 0 && (
        <ul aria-label="People to ask for" className="mt-1 border-t border-faint pt-1">
          {business.people.map((person) => (
            <li key={person.name} className="py-0.5">
              {person.profile ? (
                <a
                  href={webAddress(person.profile)}
                  target="_blank"
                  rel="noopener noreferrer"
                  className="font-medium text-leaf-dark underline"
                  title="People directory entry"
                >
                  {person.name}
                </a>
              ) : (
                <span className="font-medium">{person.name}</span>
              )}{" "}
              <span className="text-soft">{person.roles.join(", ")}</span>
              {person.address && (
                <span className="block text-xs">
                  {person.address}
                  {person.guessed && (
                    <span className="text-acorn"> a guess by the pattern of another address there</span>
                  )}
                </span>
              )}
            </li>
          ))}
        </ul>
      )}
      {business.contacts.length > 0 && (
        <details className="mt-1">
          <summary className="cursor-pointer text-leaf-dark">
            Everything found on their pages ({business.contacts.length})
          </summary>
          <ul className="mt-1">
            {business.contacts.map((contact) => (
              <li key={`${contact.kind}${contact.value}`} className="py-0.5">
                <span className="break-all">
                  <Phone number={contact.value} />
                </span>
                {contact.nature && <span className="text-soft"> {contact.nature}</span>}
                {contact.verified && (
                  <span
                    className={contact.verified.result === "dead" ? "text-alarm" : "text-leaf-dark"}
                    title={`${contact.verified.stage}: ${contact.verified.detail}, ${when(contact.verified.at)}`}
                  >
                    {" "}
                    {contact.verified.result === "unknown" && contact.verified.line
                      ? ""
                      : contact.verified.result}{" "}
                    {contact.verified.line}
                  </span>
                )}
                <span className="block truncate text-xs text-soft" title={contact.snippet}>
                  {contact.how} on {host(contact.url)}: “{contact.snippet}”
                </span>
              </li>
            ))}
          </ul>
        </details>
      )}
    </section>
  );
}
