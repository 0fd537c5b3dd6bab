<!-- The laboratory: laws fitted from the campaign's runs and logs, a sheet for each. -->
<script setup lang="ts">
import { computed } from 'vue'
import { RouterLink, useRoute } from 'vue-router'

import BudgetSheet from './BudgetSheet.vue'
import CurveSheet from './CurveSheet.vue'
import HeatSheet from './HeatSheet.vue'
import PowerSheet from './PowerSheet.vue'
import SupplySheet from './SupplySheet.vue'
import SweepSheet from './SweepSheet.vue'
import TradeSheet from './TradeSheet.vue'

const sheets = [
  { key: 'trade', name: 'Trade-off', page: TradeSheet },
  { key: 'power', name: 'Power', page: PowerSheet },
  { key: 'curve', name: 'Curve', page: CurveSheet },
  { key: 'sweep', name: 'Sweep', page: SweepSheet },
  { key: 'budget', name: 'Budget', page: BudgetSheet },
  { key: 'heat', name: 'Heat', page: HeatSheet },
  { key: 'supply', name: 'Supply and sound', page: SupplySheet },
]
const route = useRoute()
const current = computed(() => sheets.find((one) => one.key === route.query.sheet) ?? sheets[0]!)
</script>

<template>
  <section class="lab" aria-label="Lab">
    <nav class="sheets" aria-label="Sheets of the lab">
      <RouterLink
        v-for="one in sheets"
        :key="one.key"
        :to="{ query: { sheet: one.key } }"
        :class="{ current: one.key === current.key }"
        :aria-current="one.key === current.key ? 'page' : undefined"
        >{{ one.name }}</RouterLink
      >
    </nav>
    <component :is="current.page" />
  </section>
</template>

<style scoped>
.sheets {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 24px;
  margin-bottom: 12px;
  border-bottom: 1px solid var(--rule);
}
.sheets a {
  padding: 4px 0;
  color: var(--quiet);
  text-decoration: none;
}
.sheets a.current {
  border-bottom: 2px solid var(--petrol);
  color: var(--ink);
  font-weight: 700;
}
</style>

<style>
/* what all sheets share */
.lab .two {
  display: grid;
  gap: 32px;
}
.lab .asks {
  display: flex;
  flex-wrap: wrap;
  gap: 8px 16px;
  align-items: end;
  margin: 8px 0;
}
.lab .line {
  display: flex;
  gap: 16px;
  align-items: baseline;
}
.lab .block {
  margin-top: 20px;
}
.lab .small {
  font-size: 13px;
}
.lab .empty {
  padding: 16px;
}
@media (max-width: 1000px) {
  .lab .two {
    grid-template-columns: minmax(0, 1fr) !important;
  }
}
</style>
