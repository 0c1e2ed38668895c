/** In place of a view whose project cannot be opened: why, and the ways on. */
import type { ReactNode } from 'react';
import { Link } from 'react-router';

/** @param children ways on besides the one back to the shelf. */
export function Unopened({ failed, children }: { failed: string; children?: ReactNode }) {
  return (
    <div className="waiting">
      <p role="alert">The project cannot be opened. {failed}</p>
      <p>
        <Link to="/">Back to the projects</Link> {children}
      </p>
    </div>
  );
}
