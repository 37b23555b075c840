<script setup lang="ts">
import Select from 'primevue/select'
import { computed, ref } from 'vue'
import { useGiveRole, useInvite, useLinkForPassword, useTakeOff } from '../../api/acts/people'
import type { Shapes } from '../../api/client'
import ActButton from '../../parts/ActButton.vue'
import ChooseOne from '../../parts/ChooseOne.vue'
import SaidNo from '../../parts/SaidNo.vue'
import { useWho } from '../../shell/me'
import { t } from '../../words/say'

/** Who is on the crew; how somebody joins, and what becomes of somebody who leaves. */
const props = defineProps<{ crew: Shapes['CrewOut'] }>()
const { may, whyNot } = useWho()
const invite = useInvite()
const forPassword = useLinkForPassword()
const giveRole = useGiveRole()
const takeOff = useTakeOff()
const role = ref('wrangler')
const roles = computed(() =>
  props.crew.roles.map((one) => ({ name: `${one.words}: ${one.does}`, value: one.role })),
)
const brief = computed(() => props.crew.roles.map((one) => ({ name: one.words, value: one.role })))
const refusal = computed(
  () => invite.error.value ?? forPassword.error.value ?? giveRole.error.value ?? takeOff.error.value,
)
const link = ref<{ whom: string; address: string; hours: number }>()
const told =
  (whom: string) =>
  ({ secret, hours }: Shapes['SecretOut']) =>
    void (link.value = { whom, address: `${location.origin}/join#${secret}`, hours })
</script>

<template>
  <ul class="rows">
    <li v-for="one in crew.people" :key="one.id" :data-person="one.name" :class="{ off: !one.active }">
      <span class="tag">{{ one.name }}{{ one.you ? t('peopleTable.you') : '' }}</span>
      <Select
        :model-value="one.role"
        :options="brief"
        option-label="name"
        option-value="value"
        :disabled="!may('set_up') || !one.active"
        :aria-label="t('peopleTable.roleOf', { name: one.name })"
        @update:model-value="(to: string) => giveRole.mutate({ person: one.id, role: to })"
      />
      <span class="line">
        <ActButton
          v-if="one.active"
          type="button"
          link
          :label="t('peopleTable.newPassword', { name: one.name })"
          :why-not="whyNot('set_up')"
          @press="forPassword.mutate(one.id, { onSuccess: told(one.name) })"
        />
        <ActButton
          type="button"
          link
          :label="
            one.active
              ? t('peopleTable.takeOff', { name: one.name })
              : t('peopleTable.takeOn', { name: one.name })
          "
          :why-not="whyNot('set_up')"
          :data-take-off="one.name"
          @press="takeOff.mutate({ person: one.id, off: one.active })"
        />
      </span>
    </li>
  </ul>
  <p v-for="one in crew.known" :key="one.id" class="line" :data-known="one.name">
    <span>{{ t('peopleTable.alsoKnown', { name: one.name }) }}</span>
    <ActButton
      type="button"
      link
      :label="t('peopleTable.takeOnHere', { role: brief.find((r) => r.value === role)?.name ?? role })"
      :why-not="whyNot('set_up')"
      @press="giveRole.mutate({ person: one.id, role })"
    />
  </p>
  <form class="line" @submit.prevent="invite.mutate(role, { onSuccess: told('') })">
    <ChooseOne v-model="role" :label="t('peopleTable.inviteAs')" :options="roles" data-invite-role />
    <ActButton
      type="submit"
      class="quiet small"
      :label="t('peopleTable.makeLink')"
      :why-not="whyNot('set_up')"
      :busy="invite.isPending.value"
      data-invite
    />
  </form>
  <p v-if="link" class="told" role="status" data-link>
    {{
      link.whom
        ? t('peopleTable.passwordLink', { name: link.whom, hours: link.hours })
        : t('peopleTable.joinLink', { hours: link.hours })
    }}
    <code>{{ link.address }}</code>
  </p>
  <SaidNo :error="refusal" />
</template>

<style scoped>
ul {
  --columns: minmax(10rem, 1fr) auto minmax(20rem, 2fr);
}
.off .tag {
  text-decoration: line-through;
}
form {
  margin-top: var(--space-3);
}
</style>
