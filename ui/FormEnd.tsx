import Button from 'react-bootstrap/Button';

/** What was refused, and the button, at the end of every form. */
export function FormEnd({
  refused,
  pending,
  label,
  busy,
}: {
  refused: string | null;
  pending: boolean;
  label: string;
  busy: string;
}) {
  return (
    <>
      {refused && (
        <p className="hot mt-2 mb-0" role="alert">
          ◆ {refused}
        </p>
      )}
      <Button type="submit" variant="ember" className="mt-3" disabled={pending}>
        {pending ? busy : label}
      </Button>
    </>
  );
}
