import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { type RefObject, useState } from "react";
import { Button } from "../../components/Button";
import { count } from "../../lib/format";
import { type Chosen, useAction } from "../../queries/desk";

const REASONS = [
  "not a fit",
  "too small",
  "closed down",
  "a chain or franchise",
  "has an agency",
  "wrong trade",
  "asked not to be contacted",
];
const RELATIONSHIPS = ["client", "in conversation", "refused"];

interface Props {
  chosen: Chosen;
  many: number;
  rejectRef: RefObject<HTMLButtonElement | null>;
  tagRef: RefObject<HTMLButtonElement | null>;
  onDone: (action: { id: number; text: string } | null, error: Error | null) => void;
}

const ITEM = "block w-full rounded-[3px] px-2 py-1 text-left data-focus:bg-leaf-soft";
const SHEET = "z-40 mt-1 w-60 border border-line bg-sheet p-1.5 shadow-lg focus:outline-none";

/** Reject with a reason, tag, and note what somebody is to us: for what is picked, or all that match. */
export default function ActMenu({ chosen, many, rejectRef, tagRef, onDone }: Props) {
  const action = useAction();
  const go = (kind: string, word: string, close?: () => void) => {
    close?.();
    action.mutate(
      { kind, word, chosen },
      { onSuccess: (result) => onDone(result, null), onError: (error) => onDone(null, error) },
    );
  };
  return (
    <>
      <Menu>
        {({ close }) => (
          <>
            <MenuButton ref={rejectRef} as={Button} disabled={many === 0}>
              Reject
            </MenuButton>
            <MenuItems anchor="bottom end" className={SHEET}>
              <p className="px-2 pb-1 text-soft">Reject {count(many)} because:</p>
              {REASONS.map((reason) => (
                <MenuItem key={reason}>
                  <button type="button" onClick={() => go("reject", reason)} className={ITEM}>
                    {reason}
                  </button>
                </MenuItem>
              ))}
              <Free placeholder="another reason" onSend={(word) => go("reject", word, close)} />
              <MenuItem>
                <button
                  type="button"
                  onClick={() => go("keep", "")}
                  className={`${ITEM} mt-1 border-t border-line`}
                >
                  Keep (override the rules)
                </button>
              </MenuItem>
            </MenuItems>
          </>
        )}
      </Menu>
      <Menu>
        {({ close }) => (
          <>
            <MenuButton ref={tagRef} as={Button} disabled={many === 0}>
              Tag
            </MenuButton>
            <MenuItems anchor="bottom end" className={SHEET}>
              <p className="px-2 pb-1 text-soft">Tag {count(many)}:</p>
              <Free placeholder="a tag" onSend={(word) => go("tag", word, close)} />
              <Free placeholder="remove a tag" onSend={(word) => go("untag", word, close)} />
              <p className="mt-1 border-t border-line px-2 pt-1 text-soft">Mark as</p>
              {RELATIONSHIPS.map((relationship) => (
                <MenuItem key={relationship}>
                  <button type="button" onClick={() => go("relationship", relationship)} className={ITEM}>
                    {relationship}
                  </button>
                </MenuItem>
              ))}
            </MenuItems>
          </>
        )}
      </Menu>
    </>
  );
}

function Free({ placeholder, onSend }: { placeholder: string; onSend: (word: string) => void }) {
  const [word, setWord] = useState("");
  return (
    <form
      className="mt-1 flex gap-1 px-1"
      onSubmit={(event) => {
        event.preventDefault();
        if (word.trim()) onSend(word.trim());
        setWord("");
      }}
    >
      <input
        value={word}
        onChange={(event) => setWord(event.target.value)}
        onKeyDown={(event) => event.stopPropagation()}
        placeholder={placeholder}
        aria-label={placeholder}
        className="min-w-0 flex-1 rounded-[3px] border border-line bg-white px-1.5 py-0.5"
      />
      <Button type="submit" disabled={!word.trim()}>
        Do
      </Button>
    </form>
  );
}
