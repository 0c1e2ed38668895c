/** Short messages at the bottom of the window, each with at most one thing to do. */
import { useNotices } from '../state/notices.ts';

export function Notices() {
  const { list, dismiss } = useNotices();
  return (
    <div className="notices" role="status" aria-live="polite">
      {list.map((notice) => (
        <div key={notice.id} className={`notice notice-${notice.kind}`}>
          <span>{notice.text}</span>
          {notice.action && (
            <button
              type="button"
              className="link-button"
              onClick={() => {
                notice.action?.run();
                dismiss(notice.id);
              }}
            >
              {notice.action.label}
            </button>
          )}
          <button type="button" className="link-button" aria-label="Dismiss" onClick={() => dismiss(notice.id)}>
            Close
          </button>
        </div>
      ))}
    </div>
  );
}
