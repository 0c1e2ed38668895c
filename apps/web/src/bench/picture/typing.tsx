/** Typing a text where it stands in the picture. */
import { useEffect, useRef } from 'react';

export function Typing({ x, y, start, onDone }: { x: number; y: number; start: string; onDone: (text: string | null) => void }) {
  const field = useRef<HTMLTextAreaElement>(null);
  const done = useRef(false);
  const finish = (text: string | null) => {
    if (done.current) return;
    done.current = true;
    onDone(text);
  };
  useEffect(() => {
    field.current?.focus();
    field.current?.select();
  }, []);
  return (
    <div
      className="typing"
      style={{ left: Math.max(0, x), top: Math.max(0, y) }}
      onPointerDown={(event) => event.stopPropagation()}
      onClick={(event) => event.stopPropagation()}
      onDoubleClick={(event) => event.stopPropagation()}
    >
      <textarea
        ref={field}
        rows={2}
        defaultValue={start}
        aria-label="Text of the label. Enter keeps it, Shift and Enter begins a new line, Escape takes it back."
        placeholder="Text, then Enter"
        onBlur={(event) => finish(event.currentTarget.value)}
        onKeyDown={(event) => {
          event.stopPropagation();
          if (event.key === 'Escape') finish(null);
          else if (event.key === 'Enter' && !event.shiftKey) {
            event.preventDefault();
            finish(event.currentTarget.value);
          }
        }}
      />
    </div>
  );
}
