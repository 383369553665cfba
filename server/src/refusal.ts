/** What stands in the way of a start, said in a sentence and not as a failure of ours. */
export class Refusal extends Error {}
