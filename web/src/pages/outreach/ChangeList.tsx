import { useState } from "react";
import { useNavigate } from "react-router";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import LanguageSelect from "../../components/LanguageSelect";
import { useChangeShortlist } from "../../queries/shortlists";

interface Props {
  shortlist: number;
  name: string;
  language: string;
  what: "rename" | "drop";
  onClose: () => void;
}

/** Another name or language for a list, or its end. */
export default function ChangeList({ shortlist, name, language, what, onClose }: Props) {
  const change = useChangeShortlist();
  const navigate = useNavigate();
  const [draft, setDraft] = useState(name);
  const [spoken, setSpoken] = useState(language);
  const send = () =>
    what === "rename"
      ? change.mutate({ id: shortlist, name: draft, language: spoken }, { onSuccess: onClose })
      : change.mutateAsync({ id: shortlist }).then(
          () => navigate("/outreach"),
          () => undefined,
        );
  return (
    <form
      className="mt-3 flex flex-wrap items-center gap-2 border border-line bg-sheet px-3 py-2"
      onKeyDown={(event) => event.key === "Escape" && onClose()}
      onSubmit={(event) => {
        event.preventDefault();
        if (draft.trim()) send();
      }}
    >
      {what === "rename" ? (
        <>
          <input
            // biome-ignore lint/a11y/noAutofocus: it was asked for, and this is all that it asks
            autoFocus
            value={draft}
            maxLength={80}
            onChange={(event) => setDraft(event.target.value)}
            aria-label="Name of this list"
            className="w-64 box"
          />
          <LanguageSelect
            label="Language of its owners"
            value={spoken}
            none="each owner’s language"
            onChange={setSpoken}
          />
        </>
      ) : (
        <span>This deletes the list. Its businesses and their activity are kept.</span>
      )}
      <Button type="submit" look="main" disabled={change.isPending || !draft.trim()}>
        {what === "rename" ? "Save" : "Delete"}
      </Button>
      <Button onClick={onClose}>Cancel</Button>
      <ErrorNote error={change.error} />
    </form>
  );
}
