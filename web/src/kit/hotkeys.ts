/** Keys of ours go on where the focus is on a choice or an end that is pulled: letters mean nothing there. */
export const HOTKEYS = { enableOnFormTags: ['radio', 'slider', 'option', 'menuitem'] } as const
