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
/** One of a list of things that are shown and not chosen from. */
const item = { role: 'listitem', 'aria-selected': null, 'aria-setsize': null, 'aria-posinset': null }
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
  inputnumber: { root: 'number', pcInputText: { root: 'field' } },
  autocomplete: {
    root: 'finds',
    pcInputText: { root: 'field' },
    // a list of words with a field at its end: a listbox may not hold a field, and none of these is a choice
    inputMultiple: {
      class: 'field several',
      role: 'list',
      'aria-orientation': null,
      'aria-activedescendant': null,
    },
    chipItem: { class: 'kept', ...item },
    pcChip: {
      root: { class: 'kept-word', 'aria-label': null },
      label: 'kept-label',
      removeIcon: 'kept-away',
    },
    inputChip: { class: 'kept-new', ...item },
    overlay: 'choices',
    listContainer: 'choice-scroll',
    list: 'choice-list',
    option: ({ context }) => ['choice', { at: context['focused'], on: context['selected'] }],
    searchResultMessage: 'unseen',
    emptyMessage: 'unseen',
  },
  datepicker: {
    root: 'day-field',
    pcInputText: { root: 'field' },
    dropdown: 'day-open',
    panel: 'choices calendar',
    header: 'calendar-head',
    title: 'calendar-title',
    pcPrevButton: { root: 'pick' },
    pcNextButton: { root: 'pick' },
    selectMonth: 'pick',
    selectYear: 'pick',
    dayView: 'calendar-days',
    weekDayCell: 'calendar-week',
    day: ({ context }) => [
      'calendar-day',
      { on: context['selected'], off: context['disabled'] || context['otherMonth'] },
    ],
    monthView: 'calendar-many',
    month: ({ context }) => ['calendar-one', { on: context['selected'] }],
    yearView: 'calendar-many',
    year: ({ context }) => ['calendar-one', { on: context['selected'] }],
  },
  accordion: { root: 'parts-of' },
  accordionpanel: { root: 'part-of' },
  accordionheader: { root: 'part-head', toggleicon: 'part-turn' },
  accordioncontent: { root: 'part-in', content: 'part-content' },
  selectbutton: {
    root: 'picks',
    pcToggleButton: { root: 'pick' },
  },
  message: {
    root: ({ props }) => ['said', { refused: props.severity === 'error' }],
  },
  skeleton: { root: 'to-come' },
  toggleswitch: {
    root: ({ context }) => ['lever', { on: context['checked'], off: context['disabled'] }],
    input: 'lever-input',
    slider: 'lever-way',
    handle: 'lever-arm',
  },
  slider: { root: 'rope', range: 'rope-run', handle: 'rope-knot' },
}
