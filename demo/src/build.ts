import { writeFileSync } from 'node:fs'
import { demoShopFile } from './shop.js'

// today's midnight: the shop's visits are of the day it is first opened
const day = Math.floor(Date.now() / 86_400_000) * 86_400_000
writeFileSync(new URL('./demo-shop.json', import.meta.url), JSON.stringify(demoShopFile(day, Date.now() - 3_600_000)))
