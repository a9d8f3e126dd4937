/** The passcode, asked for on another machine; loaded only there. */
import { Button, Input } from "antd";
import { type FormEvent, useState } from "react";
import { api, data, words } from "../api/client";
import { terms } from "../terms/app";

export default function Passcode({ taken }: { taken: () => void }) {
  const [passcode, setPasscode] = useState("");
  const [fault, setFault] = useState("");
  const [asking, setAsking] = useState(false);
  async function enter(event: FormEvent) {
    event.preventDefault();
    setAsking(true);
    try {
      await data(api.POST("/api/v1/access", { body: { passcode } }));
      setFault("");
      setPasscode("");
      taken();
    } catch (error) {
      setFault(words(error));
    } finally {
      setAsking(false);
    }
  }
  return (
    <main className="gate">
      <form onSubmit={(event) => void enter(event)}>
        <h1>{terms.dravel}</h1>
        <label>
          {terms.passcode}
          <Input.Password
            size="large"
            autoFocus
            autoComplete="current-password"
            value={passcode}
            onChange={(event) => setPasscode(event.target.value)}
          />
        </label>
        {fault && (
          <p className="fault" role="alert">
            {fault}
          </p>
        )}
        <Button type="primary" size="large" htmlType="submit" loading={asking} disabled={!passcode}>
          {terms.comeIn}
        </Button>
        <p className="quiet">{terms.whoeverStartedThisDravelHasSet}</p>
      </form>
    </main>
  );
}
