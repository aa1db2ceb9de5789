export default function Loading() {
  return (
    <p className="soft" role="status">
      One moment …
    </p>
  );
}
