import { useState } from "react";
import { useNavigate } from "react-router";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { useChangeShortlist } from "../../queries/shortlists";

interface Props {
  shortlist: number;
  name: string;
  what: "rename" | "drop";
  onClose: () => void;
}

/** Another name for a list, or its end. */
export default function ChangeList({ shortlist, name, what, onClose }: Props) {
  const change = useChangeShortlist();
  const navigate = useNavigate();
  const [draft, setDraft] = useState(name);
  const send = () =>
    what === "rename"
      ? change.mutate({ id: shortlist, name: draft }, { onSuccess: onClose })
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
        <input
          // biome-ignore lint/a11y/noAutofocus: it was asked for, and this is all that it asks
          autoFocus
          value={draft}
          maxLength={80}
          onChange={(event) => setDraft(event.target.value)}
          aria-label="Name of this list"
          className={`w-64 box`}
        />
      ) : (
        <span>This deletes the list. Its businesses and their activity are kept.</span>
      )}
      <Button type="submit" look="main" disabled={change.isPending || !draft.trim()}>
        {what === "rename" ? "Keep the name" : "Forget it"}
      </Button>
      <Button onClick={onClose}>Not now</Button>
      <ErrorNote error={change.error} />
    </form>
  );
}
