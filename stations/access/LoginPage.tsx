import Button from 'react-bootstrap/Button';
import Form from 'react-bootstrap/Form';

export interface LoginParameters {
  to?: string;
  wrong?: string;
  wait?: string;
  away?: string;
}

function saidOf({ wrong, wait, away }: LoginParameters): string | null {
  if (wait) return `Too many wrong tries: wait ${Math.min(300, Number.parseInt(wait, 10) || 1)} s, then try again.`;
  if (away) return 'The database cannot be reached. Start it with bin/db start, then try again.';
  return wrong ? 'That is not the passphrase.' : null;
}

/** Asks for the passphrase; works without a script, too. */
export function LoginPage(given: LoginParameters) {
  const said = saidOf(given);
  return (
    <main className="sheet lead-ember gate">
      <h1>Bold Ember</h1>
      <form method="post" action="/login">
        <input type="hidden" name="to" value={given.to ?? '/'} />
        <Form.Label htmlFor="passphrase">Passphrase of this workshop</Form.Label>
        <Form.Control
          id="passphrase"
          name="passphrase"
          type="password"
          autoComplete="current-password"
          autoFocus
          required
          isInvalid={said !== null}
          aria-describedby={said ? 'said' : undefined}
        />
        {said && (
          <p id="said" className="hot mt-2 mb-0" role="alert">
            ◆ {said}
          </p>
        )}
        <Button type="submit" variant="ember" className="mt-3 w-100">
          Come in
        </Button>
      </form>
      <p className="soft mt-3 mb-0">
        It was chosen where the workshop was started. You stay in for a week on this device.
      </p>
    </main>
  );
}
