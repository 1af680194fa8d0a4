/**
 * Listens to a stream of messages from the server while the page is looked at; returns what ends it.
 *
 * A browser has six connections to a server for all its tabs together, and a stream takes one for good: a tab in the background
 * holds none, nor does a page that was left and is kept for the way back.
 */
export function listen<Message>(path: string, onMessage: (message: Message) => void): () => void {
  let events: EventSource | undefined;
  const stop = () => {
    events?.close();
    events = undefined;
  };
  const look = () => {
    if (document.visibilityState === "hidden") stop();
    else if (!events) {
      events = new EventSource(path);
      events.onmessage = (event) => onMessage(JSON.parse(event.data));
    }
  };
  look();
  document.addEventListener("visibilitychange", look);
  window.addEventListener("pagehide", stop);
  window.addEventListener("pageshow", look);
  return () => {
    stop();
    document.removeEventListener("visibilitychange", look);
    window.removeEventListener("pagehide", stop);
    window.removeEventListener("pageshow", look);
  };
}
