/** A page that is open on a visit. */
export interface Hand {
  /** Made once by the browser; tells two tablets of one technician apart. */
  readonly device: string
  readonly by: string
  /** Stage of the visit that it shows. */
  readonly stage: string
}
