"""The serial port and the line protocol of the C program. Written as C; only ``$names`` are filled in."""

from __future__ import annotations

SERIAL = """\
/* ---- serial port, 38400 baud (0.2 % off at 16 MHz): text ~ CRC-8 in two digits ---- */

#define LONGEST $longest

static volatile char came[64];
static volatile uint8_t came_in, came_out;
static char goes[256];
static uint8_t goes_in, goes_out;
static char line[LONGEST + 2];
static uint8_t line_length;

#ifdef USART0_RX_vect /* a chip with several serial lines numbers them */
ISR(USART0_RX_vect)
#else
ISR(USART_RX_vect)
#endif
{
    char c = UDR0;
    uint8_t next = (came_in + 1) % sizeof came;
    if (next != came_out) {
        came[came_in] = c;
        came_in = next;
    }
}

static void serial_start(void)
{
    UBRR0 = F_CPU / 16 / 38400UL - 1;
    UCSR0C = _BV(UCSZ01) | _BV(UCSZ00);
    UCSR0B = _BV(RXEN0) | _BV(TXEN0) | _BV(RXCIE0);
}

static void put(char c)
{
    if ((uint8_t)(goes_in + 1) == goes_out)
        return; /* full: the check will tell that a line is broken */
    goes[goes_in++] = c;
}

static void send_on(void)
{
    if (goes_in != goes_out && UCSR0A & _BV(UDRE0))
        UDR0 = goes[goes_out++];
}

static uint8_t crc8(const char *text, uint8_t length)
{
    uint8_t value = 0;
    while (length--) {
        value ^= (uint8_t)*text++;
        for (uint8_t bit = 0; bit < 8; bit++)
            value = value & 0x80 ? value << 1 ^ $polynomial : value << 1;
    }
    return value;
}

static void say(const char *text)
{
    char check[5];
    snprintf(check, sizeof check, "~%02X", crc8(text, (uint8_t)strlen(text)));
    for (const char *c = text; *c; c++)
        put(*c);
    for (const char *c = check; *c; c++)
        put(*c);
    put('\\n');
}
"""

PROTOCOL = """\
/* ---- the protocol: see docs/protocol.md ---- */

static uint8_t shift; /* of the drives' numbers, in the second of two that run this program */
static uint16_t silent_ms = LINK_MS, report_ms;
static bool clear_asked, proving;

static struct drive *drive_of(int32_t number)
{
    for (struct drive *d = drives; d < drives + DRIVES; d++)
        if (d->k->number + shift == number)
            return d;
    return 0;
}

static const char *state(char *text, size_t size, const char *first, const struct drive *d)
{
    uint8_t action = d->k->actions[d->mode];
    int16_t share = (int16_t)((int32_t)d->level * 1000 / d->k->n.full);
    uint16_t bad = d->k->encoder ? d->k->encoder->bad : 0;
    const char *mode = proving ? "proving" : d->k->names[d->mode];
    snprintf(text, size, "%s %d %s %d %d %ld %u", first, d->k->number + shift, mode,
             action == BACK ? -share : share, d->rpm, (long)count_of(d), bad);
    return text;
}

static const char *counts(char *text, size_t size, const struct drive *d)
{
    if (!d->k->encoder)
        return "no encoder";
    snprintf(text, size, "ok counts %d %ld %u", d->k->number + shift, (long)count_of(d), d->k->encoder->bad);
    return text;
}

static const char *inputs_of(char *text, size_t size, const struct drive *d)
{
    char bits[] = "$no_contacts", knob[6] = "-", sense[6] = "-";
    d->k->raw(bits);
    if (d->k->turns_knob)
        snprintf(knob, sizeof knob, "%u", d->knob);
    if (d->k->senses)
        snprintf(sense, sizeof sense, "%u", d->sensed);
    snprintf(text, size, "ok inputs %d %s %s %s %ld", d->k->number + shift, bits, knob, sense, (long)count_of(d));
    return text;
}

static const char *sense(char *text, size_t size, const struct drive *d)
{
    if (!d->k->senses)
        return "no sense";
    snprintf(text, size, "ok sense %d %ld", d->k->number + shift, (long)(d->sensed * d->k->n.milliamps / FINE));
    return text;
}

/* The counter is set to zero where it stands; what was homed to another zero is homed no more. */
static const char *zero(struct drive *d)
{
    if (!d->k->encoder)
        return "no encoder";
    uint8_t was = SREG;
    cli();
    d->k->encoder->count = 0;
    SREG = was;
    d->loop_count = d->last_count = 0;
    d->homed = d->has_goal = false;
    return "ok zero";
}

/* Gains of the loop, as this program counts them: told, or others taken until power goes. */
static const char *gains(char *text, size_t size, struct drive *d, bool other, int32_t gain, int32_t adds)
{
    if (!d->gain)
        return "no loop";
    if (other) {
        if (gain < 1 || gain > $most_gain || adds < 0 || adds > $most_gain)
            return "no range";
        d->gain = gain;
        d->adds = adds;
    }
    snprintf(text, size, other ? "ok tune %d %ld %ld" : "ok gains %d %ld %ld", d->k->number + shift, (long)d->gain,
             (long)d->adds);
    return text;
}

static bool whole(const char *word, int32_t *number)
{
    const char *digits = *word == '+' || *word == '-' ? word + 1 : word;
    size_t length = strlen(digits);
    if (!length || length > 9 || strspn(digits, "0123456789") != length)
        return false;
    *number = strtol(word, 0, 10);
    return true;
}

static const char *command(struct drive *d, bool speed, int32_t x)
{
    const struct numbers *n = &d->k->n;
    if (!d->k->by_port)
        return "no panel";
    if (speed && !n->loop_ms)
        return "no encoder";
    if (x < -30000 || x > 30000 || (!speed && (x < -1000 || x > 1000)))
        return "no range";
    if (x < 0 && !d->k->two_way)
        return "no way back";
    int32_t size = x < 0 ? -x : x, level = size * n->full / 1000;
    if (speed && x)
        level = (int32_t)((uint32_t)(size + n->rpm_drop) * SPEED_FINE / n->rpm_per_level);
    d->way = (x > 0) - (x < 0);
    if (d->way) {
        d->wanted = level > n->full ? n->full : (uint16_t)level;
        d->open_loop = !speed;
    }
    d->has_goal = false;
    return speed ? "ok speed" : "ok duty";
}

static const char *position(struct drive *d, bool home, int32_t x)
{
    if (!d->k->homes || (!home && !d->k->moves))
        return "no homing";
    if (home && !d->k->by_port)
        return "no panel";
    if (!home && !d->homed)
        return "no home yet";
    d->home = home;
    d->has_goal = !home;
    d->goal = x;
    d->way = 0;
    return home ? "ok home" : "ok go";
}

static const char *move(struct drive *d, int32_t by)
{
    int32_t goal = count_of(d) + by;
    if (!d->k->moves)
        return "no moves";
    if (!d->k->ends && !d->homed)
        return "no home yet";
    if (d->k->ends && (goal < d->k->n.end_back || goal > d->k->n.end_front))
        return "no range";
    d->has_goal = true;
    d->goal = goal;
    d->way = 0;
    return "ok move";
}

static struct drive *const sides[2] = {$left, $right}; /* left and right of what is steered; 0: nothing is */

/* Speed and turn mixed for both sides; where a side would need more than all, both are lessened alike. */
static const char *steer(int32_t speed, int32_t turn)
{
    int32_t left = speed + turn, right = speed - turn, most = 1000;
    if (!sides[0])
        return "no steering";
    if (proving)
        return "no output";
    if (speed < -1000 || speed > 1000 || turn < -1000 || turn > 1000)
        return "no range";
    if (labs(left) > most)
        most = labs(left);
    if (labs(right) > most)
        most = labs(right);
    command(sides[0], false, left * 1000 / most);
    command(sides[1], false, $sign(right * 1000 / most));
    return "ok steer";
}

static const char *compare(char *text, size_t size)
{
    char told[4][12] = {"-", "-", "-", "-"};
    if (!sides[0])
        return "no steering";
    for (uint8_t i = 0; i < 2; i++) {
        const struct drive *d = sides[i];
        if (d->k->encoder)
            snprintf(told[2 * i], sizeof told[0], "%ld", (long)(i ? $sign count_of(d) : count_of(d)));
        if (d->k->senses)
            snprintf(told[2 * i + 1], sizeof told[0], "%ld", (long)(d->sensed * d->k->n.milliamps / FINE));
    }
    snprintf(text, size, "ok compare %s %s %s %s", told[0], told[1], told[2], told[3]);
    return text;
}

static void all(bool stop)
{
    for (struct drive *d = drives; d < drives + DRIVES; d++) {
        d->way = 0;
        d->has_goal = d->home = false;
        d->stop = stop;
    }
    play(0, false);
}
$servo_answer
static void answer(char *text)
{
    char reply[LONGEST];
    const char *said = 0;
    char *words[4] = {text, 0, 0, 0};
    int32_t x[4] = {0, 0, 0, 0};
    uint8_t count = 1;
    for (char *c = text; *c; c++)
        if (*c == ' ') {
            *c = 0;
            if (count > 3)
                count = 5; /* too many words for any command */
            else
                words[count++] = c + 1;
        }
    uint8_t given = count - 1, asked = 0;
    if (!strcmp(text, "status") || !strcmp(text, "home") || !strcmp(text, "counts") || !strcmp(text, "report")
        || !strcmp(text, "zero") || !strcmp(text, "play")
        || !strcmp(text, "sense") || !strcmp(text, "inputs") || !strcmp(text, "prove") || !strcmp(text, "gains"))
        asked = 1;
    else if (!strcmp(text, "duty") || !strcmp(text, "speed") || !strcmp(text, "go") || !strcmp(text, "move")
             || !strcmp(text, "steer"))
        asked = 2;
    else if (!strcmp(text, "tune"))
        asked = 3;
    bool good = given == asked;
    for (uint8_t i = 1; asked && good && i <= asked; i++)
        if (!whole(words[i], &x[i]))
            said = "no number";

    if (said) {
    } else if (good && !strcmp(text, "hello")) {
        snprintf(reply, sizeof reply, "ok hello $version %u", NODES * COUNT);
        said = reply;
    } else if (good && !strcmp(text, "compare")) {
        said = compare(reply, sizeof reply);
    } else if (good && !strcmp(text, "playing")) {
        snprintf(reply, sizeof reply, "ok playing %u %u", playing, playing ? at_step + 1 : 0);
        said = reply;
    } else if (good && !strcmp(text, "stop")) {
        all(true);$servo_stop
        said = "ok stop";
    } else if (good && !strcmp(text, "clear")) {
        all(false);
        clear_asked = true;
        said = "ok clear";
    } else if (!good || !asked) {
        said = own_command(text, reply, sizeof reply) ? reply : "no such command";
    } else if (!strcmp(text, "report")) {
        said = NODES > 1 ? "no report" : x[1] && (x[1] < 10 || x[1] > 60000) ? "no range" : "ok report";
        if (*said == 'o')
            report_ms = (uint16_t)x[1];
    } else if (!strcmp(text, "steer")) {
        said = steer(x[1], x[2]);
    } else if (!strcmp(text, "play")) {
        said = x[1] < 0 || x[1] > SCRIPTS ? "no sequence" : proving ? "no output" : "ok play";
        if (*said == 'o')
            play((uint8_t)x[1], true);
    } else if (!strcmp(text, "prove")) {
        said = x[1] != 0 && x[1] != 1 ? "no range" : "ok prove";
        if (*said == 'o') {
            proving = x[1];
            play(0, false);
            for (struct drive *d = drives; d < drives + DRIVES; d++) {
                d->way = 0;
                d->has_goal = d->home = false;
                rest_at_start(d);
            }$servo_stop
        }
    } else {
        struct drive *d = drive_of(x[1]);$servo_branch
        if (!d)
            said = "no such drive";
        else if (!strcmp(text, "status"))
            said = state(reply, sizeof reply, "ok status", d);
        else if (!strcmp(text, "counts"))
            said = counts(reply, sizeof reply, d);
        else if (!strcmp(text, "zero"))
            said = zero(d);
        else if (!strcmp(text, "sense"))
            said = sense(reply, sizeof reply, d);
        else if (!strcmp(text, "inputs"))
            said = inputs_of(reply, sizeof reply, d);
        else if (!strcmp(text, "gains") || !strcmp(text, "tune"))
            said = gains(reply, sizeof reply, d, *text == 't', x[2], x[3]);
        else if (proving)
            said = "no output";
        else if (!strcmp(text, "move"))
            said = move(d, x[2]);
        else if (!strcmp(text, "home") || !strcmp(text, "go"))
            said = position(d, *text == 'h', x[2]);
        else
            said = command(d, *text == 's', x[2]);
    }
    if (shift == (x[1] > COUNT && x[1] <= NODES * COUNT ? COUNT : 0))
        say(said); /* where two share the line, the one whose drive it is; all else is the first's to answer */
}

static void take(char c)
{
    if (c == '\\r')
        return;
    if (c != '\\n') {
        if (line_length <= LONGEST)
            line[line_length++] = c;
        return;
    }
    uint8_t length = line_length;
    line_length = 0;
    if (!length)
        return;
    char check[4];
    line[length] = 0;
    if (length >= 3 && length <= LONGEST) {
        snprintf(check, sizeof check, "~%02X", crc8(line, length - 3));
        if (!strcmp(line + length - 3, check)) {
            line[length - 3] = 0;$by_radio
            silent_ms = 0;
            answer(line);
            return;
        }
    }
    if (!shift)
        say("no check");
}

static void listen(void)
{
    while (came_out != came_in) {
        char c = came[came_out];
        came_out = (came_out + 1) % sizeof came;
        take(c);
    }
}
"""
