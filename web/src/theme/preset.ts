import type { PrimeVuePTOptions } from 'primevue/config'

/** How PrimeVue's parts wear our classes; what the classes look like is in parts.css. */
export const preset: PrimeVuePTOptions = {
  select: {
    root: ({ props, state }) => ['choose', { open: state.overlayVisible, off: props.disabled }],
    label: 'chosen',
    dropdown: 'chooses',
    overlay: 'choices',
    // hidden from readers of the screen, so not to be come to by keyboard either; Tab leaves the list as it does a field
    hiddenFirstFocusableEl: { tabindex: -1 },
    hiddenLastFocusableEl: { tabindex: -1 },
    listContainer: 'choice-scroll',
    list: 'choice-list',
    option: ({ context }) => ['choice', { on: context.selected, at: context.focused }],
  },
}
