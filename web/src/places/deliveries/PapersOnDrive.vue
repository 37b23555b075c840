<script setup lang="ts">
import { computed, ref } from 'vue'
import { useLeavePapers } from '../../api/acts/deliveries'
import { useSetUp } from '../../api/queries/useSetUp'
import ActButton from '../../parts/ActButton.vue'
import ChooseOne from '../../parts/ChooseOne.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { t } from '../../words/say'

/** What lies beside the copies on a drive that goes to somebody: accounts, and a few plain words. */
const props = defineProps<{ delivery: number }>()
const { whyNot } = useWho()
const setUp = useSetUp()
const leave = useLeavePapers()
const store = ref('')
const stores = computed(() =>
  (setUp.data.value?.stores ?? []).filter((one) => !one.lost).map(({ name }) => ({ name, value: name })),
)
</script>

<template>
  <form
    class="line"
    data-papers
    @submit.prevent="store && !whyNot('deliver') && leave.mutate({ id: props.delivery, store })"
  >
    <ChooseOne v-model="store" :label="t('deliveries.papersOn')" :options="stores" />
    <ActButton
      type="submit"
      class="quiet small"
      :label="t('deliveries.leavePapers')"
      :why-not="whyNot('deliver') ?? (store ? undefined : t('deliveries.sayDrive'))"
      :busy="leave.isPending.value"
    />
    <SaidNo :error="leave.error.value" />
    <span v-if="leave.data.value" role="status" data-left>{{
      t('deliveries.papersLeft', { paths: leave.data.value.paths.join(', ') })
    }}</span>
  </form>
</template>

<style scoped>
.line {
  align-items: baseline;
}
</style>
