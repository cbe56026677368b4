/**
 * Small things kept in the browser's own storage: what can not be read there, or does not fit, is as if it were not
 * there, and nothing goes blank for it.
 */

export function kept<T>(where: Storage, key: string, otherwise: T): T {
  try {
    const found: unknown = JSON.parse(where.getItem(key) ?? "null");
    return found !== null && typeof found === typeof otherwise ? (found as T) : otherwise;
  } catch {
    return otherwise;
  }
}

export function keep(where: Storage, key: string, value: unknown): void {
  try {
    where.setItem(key, JSON.stringify(value));
  } catch {
    // No room: it lasts as long as the page.
  }
}
