/** What was asked of the server did not come to it. */
export function NotReached() {
  return (
    <p role="alert" className="basis-full font-semibold text-over">
      ◆ That did not reach the server. Nothing was changed: try again.
    </p>
  );
}
