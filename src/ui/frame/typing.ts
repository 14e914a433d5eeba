/** Whether a key goes to a text field or a choice: then it means a character and no command. */
export const isTyped = (e: KeyboardEvent): boolean =>
  e.target instanceof HTMLElement &&
  (e.target.isContentEditable ||
    e.target.matches(
      'textarea,select,input:not([type=checkbox],[type=radio],[type=range],[type=button],[type=file])',
    ));
