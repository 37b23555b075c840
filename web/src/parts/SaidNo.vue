<script setup lang="ts">
import Message from 'primevue/message'

/** Why the server refused an act, beside the act. Nothing is drawn where it did not. */
defineProps<{ error: { message: string } | null | undefined }>()
</script>

<template>
  <Message v-if="error" severity="error" data-said-no>{{ error.message }}</Message>
</template>
