import type { Shop } from '@uvula/contract'
import { Column, Entity, PrimaryColumn } from 'typeorm'

/** The one shop of this data file. */
@Entity('shop')
export class ShopEntity {
  @PrimaryColumn({ type: 'integer' }) id: number
  @Column({ type: 'simple-json' }) value: Shop
}
