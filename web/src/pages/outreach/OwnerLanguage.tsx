import { ErrorNote } from "../../components/ErrorNote";
import LanguageSelect from "../../components/LanguageSelect";
import { useLanguage, useSetLanguage } from "../../queries/languages";

/** The language that a business's owner is written to in, with what it was chosen by; it can be set by hand. */
export default function OwnerLanguage({ business }: { business: number }) {
  const query = useLanguage(business);
  const set = useSetLanguage(business);
  const found = query.data;
  return (
    <div>
      <span className="flex items-center gap-1.5">
        Language
        {found && (
          <LanguageSelect
            label="Language of the owner"
            value={found.by_hand}
            none={found.by_hand ? "by website and country" : `${found.name}, ${found.because}`}
            onChange={(language) => set.mutate(language)}
            className="min-w-0 flex-1"
          />
        )}
      </span>
      <ErrorNote error={query.error ?? set.error} />
    </div>
  );
}
