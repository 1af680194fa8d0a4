import { useState } from "react";
import { useLocation, useNavigate } from "react-router";
import { Button } from "../../components/Button";
import { ErrorNote } from "../../components/ErrorNote";
import { useTitle } from "../../lib/useTitle";
import { useChoosePassword } from "../../queries/team";
import Door, { Field } from "./Door";

/** Where the link of an invitation leads: choose a password, and be in. */
export default function Welcome() {
  const [password, setPassword] = useState("");
  const choose = useChoosePassword();
  const { hash } = useLocation();
  const go = useNavigate();
  useTitle("Choose a password");
  return (
    <Door
      title="Choose your password"
      onSubmit={() =>
        choose.mutate({ key: hash.slice(1), password }, { onSuccess: () => go("/", { replace: true }) })
      }
    >
      <p className="text-soft">At least 12 characters. Four words that do not belong together are good.</p>
      <Field
        label="Password"
        type="password"
        autoComplete="new-password"
        value={password}
        onChange={setPassword}
        first
      />
      <ErrorNote error={choose.error} />
      <Button type="submit" look="main" disabled={choose.isPending || password.length < 12}>
        {choose.isPending ? "Saving …" : "Save and sign in"}
      </Button>
    </Door>
  );
}
