import { useRef } from "react";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { useTakeRecipe } from "../../queries/gathering";

/** Takes a recipe that somebody saved as a file. */
export default function TakeRecipe() {
  const take = useTakeRecipe();
  const input = useRef<HTMLInputElement>(null);
  return (
    <div className="mt-4">
      <input
        ref={input}
        type="file"
        accept=".json,application/json"
        aria-label="Recipe file"
        className="sr-only"
        tabIndex={-1}
        onChange={(event) => {
          const file = event.target.files?.[0];
          if (file) take.mutate(file);
          event.target.value = "";
        }}
      />
      <Button onClick={() => input.current?.click()}>Open a recipe file</Button>
      {take.data && (
        <span role="status" className="ml-2 text-soft">
          “{take.data.title}” is a source now.
        </span>
      )}
      <ErrorNote error={take.error} />
    </div>
  );
}
