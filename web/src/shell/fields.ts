/** Whether keys typed here belong to a field or a dialog and are no shortcuts. A box to tick takes no letters. */
export const typesInto = (target: EventTarget | null): boolean =>
  target instanceof HTMLElement &&
  target.closest(
    'input:not([type="checkbox"]), textarea, select, [role="combobox"], [role="listbox"], [role="dialog"]',
  ) !== null
