import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from "@headlessui/react";
import { useState } from "react";
import { useNavigate } from "react-router";
import { host } from "../lib/format";
import { useFind } from "../queries/gathering";
import { Phone } from "./Phone";

/** One business by name, phone or site, from anywhere. */
export default function FindBox() {
  const [text, setText] = useState("");
  const found = useFind(text.trim()).data ?? [];
  const navigate = useNavigate();
  return (
    <Combobox<number | null>
      value={null}
      onChange={(id) => {
        if (id !== null) navigate(`/businesses?ids=${id}&b=${id}&state=all`);
        setText("");
      }}
    >
      <ComboboxInput
        aria-label="Find one business"
        placeholder="Find by name, phone or site"
        value={text}
        onChange={(event) => setText(event.target.value)}
        className="my-2 w-52 rounded-[3px] border border-line bg-white px-2 py-0.5 text-ink placeholder:text-soft"
      />
      <ComboboxOptions
        anchor="bottom end"
        className="z-[1200] mt-1 max-h-80 w-96 overflow-y-auto border border-line bg-sheet p-1 shadow-lg empty:invisible"
      >
        {found.map((item) => (
          <ComboboxOption
            key={item.id}
            value={item.id}
            className="rounded-[3px] px-2 py-1 data-focus:bg-leaf-soft"
          >
            {item.name} <span className="text-soft">{item.town}</span>
            <span className="block truncate text-xs text-soft">
              {item.why && `${item.why} · `}
              {item.phone && <Phone number={item.phone} />}
              {item.phone && item.website && " · "}
              {item.website && host(item.website)}
            </span>
          </ComboboxOption>
        ))}
        {text.trim().length > 1 && found.length === 0 && (
          <p className="px-2 py-1 text-soft">No business has that name.</p>
        )}
      </ComboboxOptions>
    </Combobox>
  );
}
