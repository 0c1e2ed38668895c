export function Waiting({ what, share }: { what: string; share?: number }) {
  return (
    <div className="waiting" role="status">
      <div className="waiting-tide" aria-hidden="true" />
      <p>
        {what}
        {share !== undefined && share > 0 ? ` (${Math.round(share * 100)} %)` : ''}
      </p>
    </div>
  );
}
