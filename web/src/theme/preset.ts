import type { PrimeVuePTOptions } from 'primevue/config'

/** What is chosen from a list that opens; one thing or several. */
const list = {
  dropdown: 'chooses',
  overlay: 'choices',
  // hidden from readers of the screen, so not to be come to by keyboard either; Tab leaves the list as it does a field
  hiddenFirstFocusableEl: { tabindex: -1 },
  hiddenLastFocusableEl: { tabindex: -1 },
  listContainer: 'choice-scroll',
  list: 'choice-list',
}
interface OfOption {
  context: { selected: boolean; focused: boolean }
}
const option = ({ context }: OfOption) => ['choice', { on: context.selected, at: context.focused }]

/** How PrimeVue's parts wear our classes; what the classes look like is in parts.css. */
export const preset: PrimeVuePTOptions = {
  select: {
    root: ({ props, state }) => ['choose', { open: state.overlayVisible, off: props.disabled }],
    label: 'chosen',
    option,
    ...list,
  },
  multiselect: {
    root: ({ props, state }) => ['choose', { open: state.overlayVisible, off: props.disabled }],
    hiddenInputContainer: 'unseen',
    labelContainer: 'chosen-in',
    label: 'chosen',
    // the row itself is what is chosen: the box only shows it
    pcOptionCheckbox: { root: 'tick', input: { hidden: true }, box: 'tick-box' },
    option,
    ...list,
  },
  checkbox: {
    root: ({ context }) => ['tick', { on: context.checked, off: context.disabled }],
    input: 'tick-input',
    box: 'tick-box',
  },
  skeleton: { root: 'to-come' },
  toggleswitch: {
    root: ({ context }) => ['lever', { on: context['checked'], off: context['disabled'] }],
    input: 'lever-input',
    slider: 'lever-way',
    handle: 'lever-arm',
  },
}
