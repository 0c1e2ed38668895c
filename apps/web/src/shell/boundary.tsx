/** What is shown of a view that failed: what happened, and a way on. What is not sent yet lies in the browser and stays there. */
import { UnstyledButton } from '@mantine/core';
import { Component, type ReactNode } from 'react';

interface Props {
  children: ReactNode;
}
interface State {
  failed: Error | null;
}

/** A part of the application that the server no longer has: it was built anew since the page was opened. */
const isMissingPart = ({ message }: Error): boolean =>
  /dynamically imported module|module script failed|Failed to fetch|Unable to preload/i.test(message);

export class Boundary extends Component<Props, State> {
  override state: State = { failed: null };
  static getDerivedStateFromError(error: unknown): State {
    return { failed: error instanceof Error ? error : new Error(String(error)) };
  }
  override render(): ReactNode {
    const { failed } = this.state;
    if (!failed) return this.props.children;
    const missing = isMissingPart(failed);
    return (
      <div className="failed-view" role="alert" data-failed-view={missing ? 'missing' : 'broken'}>
        <h1>{missing ? 'This view is not on the server any more' : 'This view has failed'}</h1>
        <p>
          {missing
            ? 'Foreshore was built anew since this window was opened. Reload to get the new one.'
            : `It cannot go on: ${failed.message}`}{' '}
          Changes that are not saved yet are kept in this browser and are sent after reloading.
        </p>
        <p>
          <UnstyledButton className="text-button" onClick={() => window.location.reload()}>
            Reload
          </UnstyledButton>{' '}
          <a href="/">To the projects</a>
        </p>
      </div>
    );
  }
}
