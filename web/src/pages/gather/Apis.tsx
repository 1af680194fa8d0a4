import { type FormEvent, useState } from "react";
import { Link } from "react-router";
import { Button } from "../../components/Button";
import { Empty } from "../../components/Empty";
import { ErrorNote } from "../../components/ErrorNote";
import { useTitle } from "../../lib/useTitle";
import { type ApiDraft, useApis, useDropApi, useTryApi } from "../../queries/apis";
import ApiEditor from "./ApiEditor";
import ApiKey from "./ApiKey";
import StartFrom from "./StartFrom";

const NEW: ApiDraft = {
  id: 0,
  by: "once",
  title: "",
  address: "",
  items: "",
  fields: [],
  body: "",
  paging: "none",
  cursor: "",
  cursor_name: "",
  total: "",
  more: "",
  error: "",
  first_page: 1,
  page_size: 20,
  cap: 0,
  limit: 200,
  key_name: "",
  key_in: "header",
  key_prefix: "",
  pace_s: 1,
  cost_per_request: 0,
  cost_per_row: 0,
  ranked: false,
  secret_kept: false,
};
const NOBODY = { name: "", town: "", postcode: "", domain: "", phone: "" };
const EMPTY = { address: "", body: "", answer: "", term: "", place: "", business: NOBODY };

const BUSINESS = [
  ["domain", "Its domain in the address"],
  ["name", "Its name in it"],
  ["town", "Its town in it"],
  ["postcode", "Its postcode in it"],
  ["phone", "Its phone in it"],
] as const;

/** Services that answer in JSON: paste one search, see the places that are read, correct, keep it as a source. */
export default function Apis() {
  const apis = useApis();
  const drop = useDropApi();
  const attempt = useTryApi();
  const [sample, setSample] = useState(EMPTY);
  const [draft, setDraft] = useState(NEW);
  const found = draft.items !== "";
  useTitle("JSON services");
  const read = (by: ApiDraft) =>
    attempt.mutate(
      { ...sample, address: sample.address || by.address, draft: by },
      {
        onSuccess: ({ recipe }) =>
          setDraft({ ...recipe, id: by.id, secret: by.secret, secret_kept: by.secret_kept }),
      },
    );
  const find = (event: FormEvent) => {
    event.preventDefault();
    read({ ...draft, items: "", fields: [], address: "" });
  };
  const stop = () => {
    setDraft(NEW);
    attempt.reset();
  };
  const box = (name: "address" | "term" | "place", label: string, width: string) => (
    <label className={width}>
      <span className="text-soft">{label}</span>
      <input
        value={sample[name]}
        onChange={(event) => setSample({ ...sample, [name]: event.target.value })}
        className="box block w-full"
      />
    </label>
  );
  return (
    <div className="h-full overflow-y-auto px-8 py-5">
      <Link to="/sweeps" className="text-leaf-dark hover:underline">
        ← Sweeps
      </Link>
      <h1 className="mt-1 text-xl">JSON services</h1>
      <p className="max-w-2xl text-soft">
        Paste the address of one search, as the service’s documentation shows it. We find the places in its
        answer, and how to ask for other words and areas. A register or people directory is asked about one
        business at a time.
      </p>
      <form className="mt-3 flex max-w-[980px] flex-wrap items-end gap-2" onSubmit={find}>
        {box("address", "Address of a search", "flex-1 min-w-80")}
        {box("term", "Words in it", "w-40")}
        {box("place", "Place in it", "w-40")}
        <Button type="submit" look="main" disabled={!sample.address || attempt.isPending}>
          {attempt.isPending ? "Asking …" : "Find the places"}
        </Button>
        {!found && (
          <>
            <div className="w-full">
              <ApiKey draft={draft} onChange={setDraft} />
            </div>
            <StartFrom kind="api" onChoose={({ api }) => api && setDraft({ ...api, secret: draft.secret })} />
            <details className="w-full">
              <summary className="cursor-pointer text-leaf-dark">
                It is asked about one business, by name or domain
              </summary>
              <div className="mt-1 flex flex-wrap gap-2">
                {BUSINESS.map(([name, label]) => (
                  <label key={name}>
                    <span className="block text-soft">{label}</span>
                    <input
                      value={sample.business[name]}
                      onChange={(event) =>
                        setSample({ ...sample, business: { ...sample.business, [name]: event.target.value } })
                      }
                      className="box w-40"
                    />
                  </label>
                ))}
              </div>
            </details>
            <details className="w-full">
              <summary className="cursor-pointer text-leaf-dark">
                It is asked with JSON, or I have an answer to paste
              </summary>
              {(
                [
                  [
                    "body",
                    "JSON that is sent (POST)",
                    '{"query": "florists", "box": [161.3, -37, 161.5, -36.8]}',
                  ],
                  ["answer", "An answer of the service", "so that nothing is asked now"],
                ] as const
              ).map(([name, label, hint]) => (
                <label key={name} className="mt-1 block">
                  <span className="text-soft">{label}</span>
                  <textarea
                    rows={3}
                    value={sample[name]}
                    placeholder={hint}
                    onChange={(event) => setSample({ ...sample, [name]: event.target.value })}
                    className="box block w-full font-mono text-xs"
                  />
                </label>
              ))}
            </details>
          </>
        )}
      </form>
      <ErrorNote error={attempt.error ?? apis.error ?? drop.error} />
      {found ? (
        <ApiEditor
          draft={draft}
          trial={attempt.data}
          busy={attempt.isPending}
          onChange={setDraft}
          onTry={() => read(draft)}
          onDone={stop}
        />
      ) : apis.data?.length ? (
        <table className="mt-5 w-full max-w-[980px] bg-sheet">
          <tbody>
            {apis.data.map((api) => (
              <tr key={api.id} className="border-b border-faint">
                <td className="px-3 py-1.5 font-medium">{api.title}</td>
                <td className="max-w-96 truncate px-3 py-1.5 text-soft">{api.address}</td>
                <td className="px-3 py-1.5 text-soft">
                  {(api.fields ?? []).map((rule) => rule.field).join(", ")}
                </td>
                <td className="px-3 py-1.5 text-right whitespace-nowrap">
                  <a href={`/api/apis/${api.id}/file`} download className="text-leaf-dark hover:underline">
                    Save as a file
                  </a>{" "}
                  <Button onClick={() => setDraft(api)}>Edit</Button>{" "}
                  <Button look="quiet" onClick={() => drop.mutate(api.id)}>
                    Delete
                  </Button>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      ) : (
        apis.data && (
          <Empty title="No JSON service yet">Paste the address of a search above to add one.</Empty>
        )
      )}
    </div>
  );
}
