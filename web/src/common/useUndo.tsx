import { App } from 'antd';
import { useCallback } from 'react';

/** Says what was done, with the way back, for a while. */
export function useUndo() {
  const { message } = App.useApp();
  return useCallback(
    (text: string, undo: () => Promise<unknown>) => {
      const key = `undo-${Date.now()}`;
      const back = () => {
        message.destroy(key);
        undo().catch((e: Error) => {
          void message.error(e.message);
        });
      };
      void message.open({
        key,
        duration: 8,
        content: (
          <span>
            {text}{' '}
            <button className="link" onClick={back}>
              undo
            </button>
          </span>
        ),
      });
    },
    [message],
  );
}
