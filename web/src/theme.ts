import { say } from './words'

// PrimeVue gives the behaviour (focus, keyboard, overlays); every class here is our own.
export const parts = () => ({
  button: { root: 'btn' },
  inputtext: { root: 'input' },
  textarea: { root: 'input' },
  select: {
    root: 'select',
    label: 'select-label',
    dropdown: 'select-mark',
    overlay: 'select-pane',
    listContainer: 'select-scroll',
    option: 'select-option',
  },
  dialog: {
    mask: 'mask',
    root: 'dialog',
    header: 'dialog-head',
    pcCloseButton: { root: 'dialog-close', 'aria-label': say('common-close') },
  },
  toast: {
    root: 'toast',
    message: 'toast-one',
    messageContent: 'toast-row',
    messageIcon: 'sr-only',
    closeButton: 'toast-close',
    closeIcon: 'toast-x',
  },
})
