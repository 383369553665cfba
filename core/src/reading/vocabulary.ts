/**
 * Words of headers, made one: abbreviations of SAE J1930 and of common exports, and the plain words of English, German,
 * French, Spanish, Italian and Polish ones, the commonest of Dutch, Portuguese, Swedish and Czech ones, each with what it means in the dictionary's own words. Without accents.
 */
const SPELLED: Readonly<Record<string, string>> = {
  // abbreviations
  'temp temps tmp temperatur temperatura temperature temperaturen temperatuur teplota': 'temperature',
  'press pres pression presion pressione cisnienie druck druk pressao tlak tryck': 'pressure',
  'pos posn posit posicion posizione pozycja polozenie stellung posicao stand poloha': 'position',
  abs: 'absolute',
  'calc calculee calculado calculada calcolato calcolata berechnet berechnete obliczone': 'calculated',
  spd: 'speed',
  'eng mot moteur motor motore silnik silnika motors motoru motorns': 'engine',
  'veh vehicule vehiculo veicolo pojazd pojazdu fahrzeug voertuig veiculo vozidla': 'vehicle',
  'accel accelerateur acelerador acceleratore przyspieszenia gazu': 'accelerator',
  'volt volts voltaje tension tensione napiecie spannung vpwr spanning tensao napeti': 'voltage',
  vbat: 'battery voltage',
  'batt bat batterie bateria batteria akumulatora akumulator': 'battery',
  'b1 bank1 b1s1 bank1sensor1': '1',
  'b2 bank2 b2s1 bank2sensor1': '2',
  'tps1 tp1': 'tps 1',
  clv: 'calculated load',
  imap: 'intake manifold pressure',
  faf: 'short term fuel trim',
  lfr: 'idle valve',
  dk: 'throttle',
  maf1: 'maf',
  nmot: 'engine rpm',
  sys: 'system',
  fuelsys: 'fuel system',
  fuelsys1: 'fuel system 1',
  st: 'stft',
  lt: 'ltft',
  'stft1 shrtft1 sft1 stft11 shrtft11': 'stft 1',
  'stft2 shrtft2 sft2 stft21 shrtft21': 'stft 2',
  'ltft1 longft1 lft1 ltft11 longft11': 'ltft 1',
  'ltft2 longft2 lft2 ltft21 longft21': 'ltft 2',
  'shrtft sft': 'stft',
  'longft lft': 'ltft',
  'cts clt coolanttemp': 'coolant temperature',
  'bp barometrica barometrique barometrisch barometryczne barometrico': 'barometric',
  'atmospherique atmosferica atmosferyczne atmosferico': 'atmospheric',
  'luftdruck umgebungsdruck atmospharendruck atmosphaerendruck': 'barometric pressure',
  'app pps': 'accelerator pedal position',
  'ign zundung zuendung allumage encendido accensione zaplon zaplonu': 'ignition',
  'adv avance anticipo wyprzedzenie': 'advance',
  'zundwinkel zuendwinkel zundzeitpunkt zuendzeitpunkt': 'ignition timing',
  'isc iscv iac iacv idlevalve': 'idle valve',
  'leerlauf ralenti minimo jalowego jalowy': 'idle',
  'leerlaufsteller leerlaufregelventil leerlaufregler leerlaufventil leerlaufluft leerlaufstellers': 'idle valve',
  'bypass nebenluft': 'bypass',
  // time
  'zeit uhrzeit zeitstempel temps heure tiempo hora tempo ora czas godzina tijd tid cas': 'time',
  // speeds
  'toerental motortoerental rotacao rotacoes varvtal motorvarvtal otacky drehzahl motordrehzahl obroty giri revoluciones vueltas umdrehungen regime regimen tacho tachometer':
    'rpm',
  'obrotowa rotazione rotacion': 'engine',
  'geschwindigkeit fahrgeschwindigkeit fahrzeuggeschwindigkeit': 'vehicle speed',
  'vitesse velocidad velocita predkosc snelheid velocidade hastighet rychlost': 'speed',
  // load
  'last motorlast carga carico obciazenie lastwert belasting motorbelasting zatizeni': 'load',
  // temperatures
  'kuhlmittel kuehlmittel refroidissement refrigerante anticongelante raffreddamento chlodzacej chlodzacego chlodziwa cieczy kuhlwasser kuehlwasser koelvloeistof arrefecimento kylvatska chladici':
    'coolant',
  'kuhlmitteltemperatur kuehlmitteltemperatur kuhlwassertemperatur kuehlwassertemperatur motortemperatur koelvloeistoftemperatuur kylvatsketemperatur':
    'coolant temperature',
  'eau agua acqua wody': 'water',
  'ansaugluft admission admision aspirazione aspirata dolotowego zasysanego dolocie ssacym dolotowym inlet inlaat admissao nasavaneho':
    'intake',
  'ansauglufttemperatur lufttemperatur inlaatluchttemperatuur luchttemperatuur insugsluftstemperatur':
    'intake air temperature',
  ladelufttemperatur: 'charge air temperature',
  'aire aria powietrza powietrze luft lucht ar vzduchu': 'air',
  // pressures
  'saugrohrdruck ansaugdruck krummerdruck inlaatdruk inlaatspruitstukdruk insugstryck': 'intake manifold pressure',
  'coletor spruitstuk collecteur tubulure colector multiple collettore kolektor kolektora kolektorze saugrohr manif':
    'manifold',
  'ladedruck turboladedruck': 'boost pressure',
  'suralimentation sobrealimentacion sovralimentazione doladowania': 'boost',
  'unterdruck depression vacio vuoto depressione podcisnienie vac': 'vacuum',
  // airflow
  'luchtmassa luchtmassameter luftmassa luftmasse luftmassenstrom luftmassendurchsatz luftmassenmesser lmm': 'air mass',
  'debit flujo caudal portata flusso przeplyw fluxo vazao stroom': 'flow',
  'masse massique masa masico massa masowy massico hmotnost': 'mass',
  // throttle and pedal
  'gasklep borboleta trottel drosselklappe papillon mariposa farfalla przepustnica przepustnicy thr thrtl': 'throttle',
  'drosselklappenstellung drosselklappenposition gasklepstand gasklepstelling': 'throttle position',
  'drosselklappenwinkel drosselklappenoffnung': 'throttle angle',
  'ouverture apertura otwarcie offnung': 'opening',
  'winkel angulo angolo kat': 'angle',
  'pedale pedalu': 'pedal',
  'gaspedal fahrpedal pedalwert pedalstellung fahrpedalstellung': 'accelerator pedal',
  // trims
  'correction correccion correzione korekta ajuste trimm adaption korrektur correctie correcao': 'trim',
  'carburant combustible carburante paliwa kraftstoff richesse mezcla gemisch brandstof combustivel': 'fuel',
  'brandstofcorrectie brandstoftrim kraftstofftrimm kraftstoffkorrektur kraftstoffanpassung gemischkorrektur gemischanpassung':
    'fuel trim',
  'kurzzeit krotkoterminowa krotkookresowa kurzfristig kurzfristige': 'short term',
  'langzeit dlugoterminowa dlugookresowa langfristig langfristige': 'long term',
  'kurzzeittrimm lambdaregler lambdaregelung lambdaintegrator': 'short term fuel trim',
  langzeittrimm: 'long term fuel trim',
  kortetermijnbrandstofcorrectie: 'short term fuel trim',
  langetermijnbrandstofcorrectie: 'long term fuel trim',
  afr: 'air fuel ratio',
  'lambdaadaption gemischadaption': 'learned fuel trim',
  'adaptation adaptacion adaptacja adattamento adaptive learn learnt learning': 'learned',
  ft: 'fuel trim',
  'court courte corto corta curto breve kurz kurze korte': 'short',
  'largo larga lungo longue longo lang lange': 'long',
  'terme plazo termine termijn prazo': 'term',
  // the rest
  'batteriespannung bordnetzspannung bordspannung accuspanning': 'battery voltage',
  'vanne electrovanne soupape valvula electrovalvula valvola elettrovalvola zawor zaworu elektrozawor ventil': 'valve',
  'regulateur regulador regolatore regler': 'regulator',
  krokowy: 'stepper',
  'tankentluftung tankentlueftung tankentluftungsventil tankentlueftungsventil regenerierventil purga pochlaniacza':
    'purge',
  'agr agrventil': 'egr',
  'soll sollwert consigne objetivo obiettivo zadane zadana': 'desired',
  'wideband breitband': 'wideband',
  'regelkreis boucle bucle petla anello': 'loop',
}
const WORDS = new Map(
  Object.entries(SPELLED).flatMap(([from, to]) =>
    from.split(' ').map((w): [string, readonly string[]] => [w, to.split(' ')]),
  ),
)

/** Words that say nothing about which channel it is. */
const EMPTY = new Set(
  (
    'bank bancata banco banc banque rangee the of sensor value current actual measured reading data live sae pid obd obdii ' +
    's1 kpa pct percent percentage gs c v kph deg signal ecm ecu pcm parameter istwert ist wert valeur valor valore wartosc ' +
    'd l de du do da dos des la le les el del di della dello dell der die das am im w na do z a al au aux liquide liquido plynu kapaliny van het ' +
    'biegu bieg par gaz capteur sonde sensore czujnik'
  ).split(' '),
)

/** Parts of German compounds; what is made of these alone is taken apart. */
const STEMS: Readonly<Record<string, string>> = {
  ansaug: 'intake',
  saugrohr: 'intake manifold',
  luft: 'air',
  massen: 'mass',
  masse: 'mass',
  strom: 'flow',
  durchsatz: 'flow',
  menge: 'flow',
  temperatur: 'temperature',
  druck: 'pressure',
  kuhlmittel: 'coolant',
  kuehlmittel: 'coolant',
  motor: 'engine',
  drehzahl: 'rpm',
  drosselklappen: 'throttle',
  drosselklappe: 'throttle',
  winkel: 'angle',
  stellung: 'position',
  position: 'position',
  offnung: 'opening',
  oeffnung: 'opening',
  spannung: 'voltage',
  batterie: 'battery',
  bordnetz: 'battery',
  lade: 'boost',
  umgebungs: 'barometric',
  atmospharen: 'barometric',
  leerlauf: 'idle',
  regel: 'control',
  ventil: 'valve',
  steller: 'actuator',
  tastverhaltnis: 'duty',
  last: 'load',
  fahrzeug: 'vehicle',
  geschwindigkeits: 'speed',
  geschwindigkeit: 'speed',
  kurzzeit: 'short term',
  langzeit: 'long term',
  kraftstoff: 'fuel',
  trimmung: 'trim',
  trimm: 'trim',
  korrektur: 'trim',
  fahrpedal: 'accelerator pedal',
  gaspedal: 'accelerator pedal',
  zund: 'ignition',
  zuend: 'ignition',
  wert: '',
  signal: '',
  sensor: '',
  geber: '',
}
const BY_LENGTH = Object.keys(STEMS).sort((a, b) => b.length - a.length)
const SHORTEST_COMPOUND = 9

/** A compound's parts in the dictionary's own words; undefined where some of it is none of ours. */
function partsOf(word: string): readonly string[] | undefined {
  if (word === '') return []
  for (const stem of BY_LENGTH) {
    if (!word.startsWith(stem)) continue
    // parts are joined by s, n, en or by nothing
    for (const joint of ['', 's', 'n', 'en']) {
      const rest = word.slice(stem.length)
      const behind = rest.startsWith(joint) ? partsOf(rest.slice(joint.length)) : undefined
      if (behind) return [...STEMS[stem].split(' ').filter(Boolean), ...behind]
    }
  }
  return undefined
}

/** One spelling's words in the dictionary's own; itself where it is none of these. */
export const inOurWords = (word: string): readonly string[] =>
  WORDS.get(word) ?? (word.length >= SHORTEST_COMPOUND ? partsOf(word) : undefined) ?? [word]

/** The number of a J1979 parameter ahead of its name: "0C Engine RPM", "$10 MAF". */
const PARAMETER = /^\s*\$?(?:0x)?(?=[0-9a-f]*\d)[0-9a-f]{2}[\s:_-]+(?=\S)/i

/** In brackets, too, what is wanted is not what was measured. */
const WANTED = /^\s*(commanded|desired|target|soll|setpoint|requested)\s*$/i

/** Words of a label: lower case, accents, units and punctuation gone, spellings made one. */
export function labelWords(label: string): string[] {
  const words = label
    .replace(PARAMETER, '')
    .replace(/[([{]([^)\]}]*)[)\]}]/g, (_, inside: string) => (WANTED.test(inside) ? ` ${inside} ` : ' '))
    // "EngSpd", and not "kPa"
    .replace(/([a-z]{2})(?=[A-Z][a-z])/g, '$1 ')
    .toLowerCase()
    .normalize('NFD')
    .replace(/[\u0300-\u036f]/g, '')
    .replace(/\u0142/g, 'l')
    .replace(/\u00df/g, 'ss')
    .replace(/\bby[- ]pass\b/g, 'bypass')
    .replace(/^b\+$/, 'battery')
    .replace(/[^a-z0-9]+/g, ' ')
    .trim()
    .split(' ')
    .flatMap(inOurWords)
    .filter((w) => w !== '' && !EMPTY.has(w))
  // alone it is the temperature of the air charge, beside a name the actual value
  return words.length > 1 ? words.filter((w) => w !== 'act') : words
}
