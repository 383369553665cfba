import { randomBytes } from 'node:crypto'
import type { RequestListener } from 'node:http'

/** Name of the file that a tablet takes. */
const FILE = '/uvula-of-this-shop.crt'
/** Of a host only what may stand in an address. */
const HOST = /^([a-z0-9.-]{1,80})(:\d+)?$/i

/** In the plain, since a tablet that does not know the shop yet can read nothing else; nothing of the shop's records is here. */
const page = (nonce: string, print: string, shop: string): string => `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width">
<title>Uvula: this tablet and the shop</title>
<style nonce="${nonce}">
body{margin:0 auto;max-width:40rem;padding:1.5rem;font:1.125rem/1.5 system-ui,sans-serif;color:#14181a;background:#f1f3f0}
h1{font-size:1.75rem;line-height:1.2;border-bottom:2px solid #14181a;padding-bottom:.5rem}
li{margin:0 0 1.25rem}a{display:inline-block;min-height:3rem;line-height:3rem;color:inherit;font-weight:600}
code{font-size:1rem;word-break:break-word}
</style></head><body>
<h1>Let this tablet know the shop</h1>
<p>Uvula on the shop’s computer speaks encrypted. For this tablet to know that computer from another, it takes the shop’s certificate, once.</p>
<ol>
<li><a href="${FILE}" download>take the certificate</a></li>
<li>Compare its SHA-256 fingerprint, which the tablet shows among its details, with the one that the shop’s computer shows in the settings of Uvula, under “let a tablet in”. This page says<br><code>${print}</code><br>Leave it alone if they differ.</li>
<li>Install it in the tablet’s own settings: look for certificates, under security or under general and profiles. Where it asks what for, it is a certificate authority; where a second switch asks to trust it, turn that on.</li>
<li><a href="${shop}">go on to the shop</a></li>
</ol>
<p>The certificate can speak for addresses of a private network and for names that end in .local, and for nothing else. Take it off the tablet when the tablet leaves the shop.</p>
</body></html>`

/** Serves the page about the certificate and the certificate itself. @param shopAt - address of the shop under a host's name */
export function trustPage(der: Buffer, print: string, shopAt: (host: string) => string): RequestListener {
  return (request, response) => {
    const host = HOST.exec(request.headers.host ?? '')?.[1]
    const path = request.url?.split('?')[0]
    response.setHeader('X-Content-Type-Options', 'nosniff')
    response.setHeader('Cache-Control', 'no-store')
    if (request.method !== 'GET' || host === undefined || (path !== '/' && path !== FILE)) {
      response
        .writeHead(404, { 'Content-Type': 'text/plain' })
        .end('Nothing is here but the page about the certificate.')
      return
    }
    if (path === FILE) {
      response.writeHead(200, { 'Content-Type': 'application/x-x509-ca-cert' }).end(der)
      return
    }
    const nonce = randomBytes(16).toString('base64')
    response
      .writeHead(200, {
        'Content-Type': 'text/html; charset=utf-8',
        'Content-Security-Policy': `default-src 'none'; style-src 'nonce-${nonce}'; base-uri 'none'; form-action 'none'; frame-ancestors 'none'`,
        'Referrer-Policy': 'no-referrer',
      })
      .end(page(nonce, print, shopAt(host)))
  }
}
