import { ref } from 'vue'

/** Whether whoever is signed in sees the work at the cart here; a client sees what is safe, and asks for nothing else. */
export const seesWork = ref(true)
