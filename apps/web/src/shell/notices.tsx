/** Short messages at the bottom of the window, each with at most one thing to do. */
import { UnstyledButton } from '@mantine/core';
import { Notifications, notifications } from '@mantine/notifications';
import { showNoticesWith } from '../state/notices.ts';

const LASTING_MS = { said: 8000, failed: 20_000 };

showNoticesWith(({ text, kind, action }) => {
  // One text is one message, however often it is said.
  notifications.hide(text);
  notifications.show({
    id: text,
    autoClose: LASTING_MS[kind],
    color: kind === 'failed' ? 'var(--red)' : 'var(--channel)',
    withBorder: true,
    role: kind === 'failed' ? 'alert' : 'status',
    closeButtonProps: { 'aria-label': 'Dismiss', size: 28 },
    message: (
      <span className={`notice notice-${kind}`}>
        {text}{' '}
        {action && (
          <UnstyledButton
            className="link-button"
            onClick={() => {
              action.run();
              notifications.hide(text);
            }}
          >
            {action.label}
          </UnstyledButton>
        )}
      </span>
    ),
  });
});

export const Notices = () => <Notifications position="bottom-center" limit={4} containerWidth={560} />;
