/** Putting a thing away: gone at once, with a way back in the notice. */
import { App, Button } from "antd";
import { terms } from "../terms/api";
import { terms as common } from "../terms/common";
import { phrase } from "../terms/phrase";
import { words } from "./client";

interface Gone {
  key: string;
  name: string;
  more?: string;
  remove: () => Promise<unknown>;
  restore: () => Promise<unknown>;
  refresh: () => Promise<unknown>;
}

/** Answers whether it was put away; when not, it has said why. */
export function usePutAway() {
  const { notification } = App.useApp();
  const fault = (error: unknown, message: string) =>
    notification.error({ message, description: words(error) });
  return async ({ key, name, more, remove, restore, refresh }: Gone): Promise<boolean> => {
    try {
      await remove();
    } catch (error) {
      fault(error, terms.notPutAway);
      return false;
    }
    await refresh();
    const back = async () => {
      try {
        await restore();
      } catch (error) {
        fault(error, terms.notBroughtBack);
        return;
      }
      await refresh();
      notification.destroy(key);
    };
    notification.info({
      key,
      message: phrase(terms.nameWasPutAway, { name }),
      description: more,
      actions: <Button onClick={() => void back()}>{common.bringItBack}</Button>,
    });
    return true;
  };
}
