/** The nonce of this page's answer: styles that a part puts into the page carry it. */
export const nonce: string = document.querySelector<HTMLMetaElement>('meta[property=csp-nonce]')?.nonce ?? ''
