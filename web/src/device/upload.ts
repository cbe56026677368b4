/** A body with a file in it, as forms send one. */
export function asForm(body: Record<string, unknown>): FormData {
  const form = new FormData();
  for (const [name, value] of Object.entries(body))
    if (value instanceof Blob) form.set(name, value, value instanceof File ? value.name : "file");
    else if (value !== undefined && value !== null) form.set(name, `${value as string | number | boolean}`);
  return form;
}
