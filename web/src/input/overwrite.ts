/** What is typed into a field replaces what it held. */
export function overwrite(event: FocusEvent) {
  const field = event.target
  if (field instanceof HTMLInputElement) requestAnimationFrame(() => field.select())
}
