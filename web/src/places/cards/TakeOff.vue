<script setup lang="ts">
import InputText from 'primevue/inputtext'
import { computed, ref } from 'vue'
import { useTakeOff } from '../../api/acts/clearing'
import type { Shapes } from '../../api/client'
import ActButton from '../../parts/ActButton.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { t } from '../../words/say'
import { bytes, counted } from '../../words/units'

/** Taking the files of a card off it that are safe elsewhere: for cards that other people's files are on. */
const props = defineProps<{ detail: Shapes['CardDetail'] }>()
const { whyNot } = useWho()
const take = useTakeOff()
const open = ref(false)
const typed = ref('')
const now = computed(() => props.detail.removable)
const tag = computed(() => props.detail.case.tag ?? '')
const right = computed(() => typed.value.trim().toUpperCase() === tag.value.toUpperCase())
const others = computed(() => props.detail.case.files - now.value.files)
const words = computed(() => ({
  tag: typed.value,
  count: now.value.files,
  digest: props.detail.case.digest,
}))
function go() {
  const done = () => {
    open.value = false
    typed.value = ''
  }
  take.mutate({ label: props.detail.card.label, ...words.value }, { onSuccess: done })
}
</script>

<template>
  <section v-if="now.allowed && (now.files || now.last || now.under_way)" data-take-off>
    <h2>{{ t('takeOff.title') }}</h2>
    <p v-if="now.last" data-last-removal>{{ now.last }}</p>
    <p v-if="now.under_way" role="status">{{ t('takeOff.underWay') }}</p>
    <template v-else-if="now.files">
      <p>
        {{
          t('takeOff.mayGo', {
            files: counted(now.files, 'file'),
            bytes: bytes(now.bytes),
            others: counted(others, 'file'),
          })
        }}
        <span class="soft">{{ t('takeOff.formatInstead') }}</span>
      </p>
      <p v-if="now.waits_for_second" class="trouble">{{ t('takeOff.waitsForSecond') }}</p>
      <ActButton
        type="button"
        link
        :label="t('takeOff.takeOff', { files: counted(now.files, 'file') })"
        :aria-expanded="open"
        :why-not="whyNot('remove')"
        data-open-take-off
        @press="open = !open"
      />
      <form v-if="open" class="line" @submit.prevent="go">
        <p class="all">
          {{ t('takeOff.whatHappens') }}
          <code>{{ now.paths.slice(0, 12).join(', ') }}{{ now.files > 12 ? ' …' : '' }}</code>
        </p>
        <label
          >{{ t('takeOff.typeTheTag', { tag }) }}
          <InputText v-model="typed" class="field" autocomplete="off" spellcheck="false" data-take-off-tag
        /></label>
        <ActButton
          type="submit"
          class="small"
          :label="t('takeOff.now', { files: counted(now.files, 'file') })"
          :why-not="right ? undefined : t('takeOff.typeFirst', { tag })"
          :busy="take.isPending.value"
          data-take-off-now
        />
      </form>
    </template>
    <SaidNo :error="take.error.value" />
  </section>
</template>

<style scoped>
h2 {
  margin: var(--space-5) 0 var(--space-2);
}
.all {
  width: 100%;
}
</style>
