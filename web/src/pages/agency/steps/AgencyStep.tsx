import { ErrorNote } from "../../../components/ErrorNote";
import { useSaveSettings } from "../../../queries/agency";
import { useLetterhead } from "../../../queries/outreach";
import LetterheadForm from "../../outreach/LetterheadForm";
import type { StepProps } from "../SetUp";

/** Name, logo, colour, who signs; the e-mail is also the one that services are given. */
export default function AgencyStep({ onNext }: StepProps) {
  const head = useLetterhead();
  const save = useSaveSettings();
  return (
    <>
      <ErrorNote error={head.error ?? save.error} />
      {head.data && (
        <LetterheadForm
          head={head.data}
          button="Save and continue"
          onSaved={({ name, email }) =>
            save.mutate({ agency: name, ...(email ? { contact_address: email } : {}) }, { onSuccess: onNext })
          }
        />
      )}
    </>
  );
}
