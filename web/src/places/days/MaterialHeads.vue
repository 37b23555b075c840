<script setup lang="ts">
import { t } from '../../words/say'
</script>

<template>
  <th scope="col" class="number">{{ t('days.rollsHead') }}</th>
  <th scope="col" class="number">{{ t('days.clips') }}</th>
  <th scope="col" class="number">{{ t('days.hours') }}</th>
  <th scope="col" class="number">{{ t('days.files') }}</th>
  <th scope="col" class="number">{{ t('days.size') }}</th>
</template>
