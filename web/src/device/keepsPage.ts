/** A page that came in plain from elsewhere gets no worker of its own from the browser. */
export function keepsPage(): boolean {
  return window.isSecureContext && "serviceWorker" in navigator;
}
