/** One element per field that can be typed in, in the order of the page. */
function typedFields(): HTMLElement[] {
  const seen = new Set<string>();
  return [...document.querySelectorAll<HTMLElement>('[data-desk-form] [data-field]')].filter(
    (element) => {
      const id = element.dataset['field'] ?? '';
      if (seen.has(id)) return false;
      seen.add(id);
      return true;
    },
  );
}

/** A yes/no answer that is chosen is the one to focus; otherwise the field's only element. */
function focus(element: HTMLElement): void {
  const chosen = document.querySelector<HTMLElement>(
    `[data-field="${element.dataset['field'] ?? ''}"]:checked`,
  );
  const target = chosen ?? element;
  target.focus();
  selectTyped(target);
  target.scrollIntoView({ block: 'nearest' });
}

/** Selects what stands in a field, so that typing replaces it; a beginning stays before the caret. */
export function selectTyped(target: EventTarget | null): void {
  const isText = target instanceof HTMLInputElement && target.type === 'text';
  if (!isText && !(target instanceof HTMLTextAreaElement)) return;
  const { value, dataset } = target;
  const { beginning = '' } = dataset;
  if (beginning !== '' && value.startsWith(beginning)) {
    target.setSelectionRange(beginning.length, value.length);
  } else if (isText) target.select();
}

export function focusFirstField(): void {
  const [first] = typedFields();
  if (first) focus(first);
}

/** Whether a person has gone to another part of the page than the form since `before` had the focus. */
export function isBusyElsewhere(before: Element | null): boolean {
  const { activeElement: active } = document;
  if (active === null || active === before) return false;
  return !active.matches('body, #page') && active.closest('[data-desk-form]') === null;
}

/** At once, so that no key is lost; and again when another page of the form stands there. */
export function focusFirstSoon(): void {
  focusFirstField();
  requestAnimationFrame(() => {
    if (document.activeElement === document.body) focusFirstField();
  });
}

export function focusField(fieldId: string): void {
  const field = typedFields().find((element) => element.dataset['field'] === fieldId);
  if (field) focus(field);
}

/** From a field to the next, and from the last to Submit. */
export function focusNextField(from: HTMLElement): void {
  const fields = typedFields();
  const at = fields.findIndex((element) => element.dataset['field'] === from.dataset['field']);
  const next = fields[at + 1];
  if (next) focus(next);
  else document.querySelector<HTMLElement>('[data-action="submit"]')?.focus();
}
