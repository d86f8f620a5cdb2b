import { createApp } from 'vue';
import Page from './Page.vue';
import { stores } from './stores.js';
import { hostStores } from '../stores/proxy/vue.js';

createApp(Page).use(hostStores(stores)).mount('#page');
