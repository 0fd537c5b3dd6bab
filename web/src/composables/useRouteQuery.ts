import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'

/** A number kept in the address, so that what is shown can be bookmarked and the back button works. */
export function useRouteQuery(name: string) {
  const route = useRoute()
  const router = useRouter()
  return computed<number | undefined>({
    get: () => (route.query[name] ? Number(route.query[name]) : undefined),
    set: (value) => void router.push({ query: { ...route.query, [name]: value } }),
  })
}
