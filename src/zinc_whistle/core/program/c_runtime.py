"""The parts of the C program that are the same for every build: clock, serial port, ramp, protocol.

Written as C, so that it reads as C; only ``$names`` are filled in.
"""

from __future__ import annotations

HEAD = """\
/*
 * $build: $controller
 *
 * Written by Zinc Whistle from the design's own numbers; each one tells where it comes from. Make it anew after a
 * change of the design: what stands between "yours" and "end of yours" is kept.
 *
 * A stop in this program does not cut power. What can hurt somebody needs a switch that does, and a fuse at the battery.
 * Local codes come first; ask a qualified person where they apply.
 *
 * Build:  avr-gcc -mmcu=TARGET -std=c11 -Os -Wall -Wextra -Werror -o program.elf program.c
 *         avr-objcopy -O ihex program.elf program.hex
 *         TARGET is the compiler's own name for your chip: avr-gcc --target-help lists them.
 *
$pins
 */
#define F_CPU ${clock}UL
#include <avr/interrupt.h>
#include <avr/io.h>
#include <avr/wdt.h>
#include <stdbool.h>
#include <stdint.h>
#include <stdio.h>
#include <stdlib.h>
#include <string.h>
#include <util/delay.h>

/* yours: includes and variables */
/* end of yours: includes and variables */

"""

TYPES = """\
enum action { OFF, BRAKE, FORWARD, BACK };
enum target { WANTED, SLOW, ZERO, CUT }; /* the level ramps to the wanted one, to homing's, to zero; or it is cut */

#define ONE 16384L /* a level of one step, in the fine units of the ramp */
#define FINE 256L  /* gains are kept in 1/256 of their unit */
#define SPEED_FINE 65536UL /* a level's speed is kept in 1/65536 rpm */

struct inputs {
    bool forward, back, home, ahead, behind, stop, clear, limit_front, limit_back, fault;
    bool run_forward, run_back, end_front, end_back;
    bool knob_zero, knob_lost, link_lost, radio_lost, stuck, over, locked, still, rested;
};

struct contact { /* a button or switch: it counts once it has stayed for the debounce time */
    bool steady;
    uint16_t since;
};

struct encoder {
    volatile int32_t count;
    volatile uint16_t bad; /* both channels changed at once: a count was lost */
    uint8_t last;
    volatile int8_t way; /* of one sensor alone: as it was driven last; 0: the channels tell it */
};

struct numbers { /* of the design, in timer steps and ms */
    uint16_t full, most, wanted; /* never beyond the second, whatever is asked for */
    int32_t ramp_step; /* a ms, in fine units */
    uint16_t pause_ms, coil_ms, watch_ms, watch_from, offset, home;
    uint16_t trip;          /* a sense reading of 1023; 0: no stop by current */
    int32_t trip_sum;       /* what (reading² - trip²) / 64 may come to, summed up over ms */
    int32_t milliamps;      /* one step of that reading, in 1/256 mA */
    int32_t end_back, end_front;
    uint16_t loop_ms; /* 0: no encoder */
    uint32_t rpm_per_level;
    int32_t rpm_per_count, rpm_drop;
    uint16_t slow_within, creep; /* counts, and the level of a move after its first crossing; 0: it has none */
};

struct drive;
struct kind { /* what differs from drive to drive */
    uint8_t number;
    bool by_port, two_way, homes, moves, ends, opposed, watches, turns_knob, senses, load, tacho;
    struct numbers n;
    const char *const *names;           /* of the modes */
    const uint8_t *actions, *targets;   /* of the modes */
    uint8_t coils[4];                   /* by action: bit 0 the first coil, bit 1 the second */
    uint8_t (*next)(struct drive *d, const struct inputs *in);
    void (*read)(struct drive *d, struct inputs *in);
    void (*write)(const struct drive *d, uint8_t action, uint16_t level);
    void (*lamps)(const struct drive *d, const struct inputs *in); /* without inputs: all dark; 0: no lamps */
    void (*raw)(char *bits);                                       /* contacts as they stand */
    uint8_t (*hand)(struct inputs *in);                            /* what handsets press, and which; 0: none */
    bool (*locked)(void);                                          /* whether an interlock is open; 0: none */
    struct encoder *encoder; /* 0: none */
};

struct drive {
    const struct kind *k;
    uint8_t mode, coils;
    uint8_t hand; /* the place of the handset that has it in hand, from 1 */
    bool homed, stop, home, has_goal, had_goal;
    int8_t side;  /* from which a move goes for its place; 0 once it has crossed it */
    int32_t near; /* that place */
    int32_t gain, adds; /* of the loop: in 1/256 level a rpm, and what each period adds to its integral */
    bool at_front, at_back, touched, locked; /* told to the others */
    int8_t order;           /* of a sequence */
    bool open_loop;         /* the port asked for a duty, not for a speed */
    int8_t way;             /* asked for by the port */
    int32_t goal;           /* counts */
    uint16_t wanted, level; /* asked for, and applied */
    int32_t level_fine;
    uint16_t rest_ms, quiet_ms, settled_ms, still_ms, loop_ms;
    int32_t over;
    uint16_t peak, peak_before, peak_ms;
    uint16_t knob, sensed, turned; /* as they were read, of 1023: knob, current, tacho */
    bool back;                     /* the way that was driven last */
    int32_t loop_count, last_count;
    int16_t rpm;
    int32_t integral; /* of the loop, in 1/256 level */
    int8_t bound;     /* the level was held at its top (1) or at nothing (-1) */
};
"""

CLOCK = """\
/* ---- a millisecond from timer 0 ---- */

static volatile uint8_t passed;
static uint32_t now_ms;

ISR(TIMER0_COMPA_vect)
{
    if (passed < 200)
        passed++;
}

static void clock_start(void)
{
    TCCR0A = _BV(WGM01);
    TCCR0B = _BV(CS01) | _BV(CS00); /* clock / 64 */
    OCR0A = F_CPU / 64 / 1000 - 1;
    TIMSK0 = _BV(OCIE0A);
}
"""

COUNTING = """\
/* ---- encoders ---- */

static void turn(struct encoder *e, uint8_t ab, const int8_t *table)
{
    int8_t step = table[e->last << 2 | ab];
    if (step == $illegal)
        e->bad++;
    else
        e->count += e->way ? step * e->way : step;
    e->last = ab;
}

"""

COUNT_OF = """\
static int32_t count_of(const struct drive *d)
{
    int32_t count = 0;
    if (d->k->encoder) {
        uint8_t was = SREG;
        cli();
        count = d->k->encoder->count;
        SREG = was;
    }
    return count;
}
"""

SETTLED = """\
/* ---- contacts ---- */

static bool settled(struct contact *c, bool now, uint16_t wait)
{
    if (now == c->steady) {
        c->since = 0;
    } else if (++c->since >= wait) {
        c->steady = now;
        c->since = 0;
    }
    return c->steady;
}
"""

KNOB_BOUNDS = """\
/* ---- knobs ---- */

#define KNOB_LOST $knob_lost /* of 1023: beyond this at either end a wire is off */
#define KNOB_ZERO $knob_zero
#define KNOB_TOP $knob_top

"""

KNOB = """\
static void knob(struct drive *d, uint16_t reading, struct inputs *in)
{
    d->knob = reading;
    uint16_t above = reading > KNOB_ZERO ? reading - KNOB_ZERO : 0;
    if (above > KNOB_TOP - KNOB_ZERO)
        above = KNOB_TOP - KNOB_ZERO;
    d->wanted = (uint32_t)above * d->k->n.full / (KNOB_TOP - KNOB_ZERO);
    in->knob_zero = reading <= KNOB_ZERO;
    in->knob_lost = reading < KNOB_LOST || reading > 1023 - KNOB_LOST;
}

"""

CONVERTER = """\
/* ---- the analogue converter: read one after the other, about 0.1 ms each ---- */

static uint16_t converted(uint8_t channel)
{
    ADMUX = _BV(REFS0) | (channel & 7);
#ifdef MUX5
    ADCSRB = channel & 8 ? _BV(MUX5) : 0;
#endif
    ADCSRA = _BV(ADEN) | _BV(ADSC) | _BV(ADPS2) | _BV(ADPS1) | _BV(ADPS0);
    while (ADCSRA & _BV(ADSC)) {
    }
    return ADC;
}

"""

RUNNING = """\
/* ---- level: ramp, relays, speed loop ---- */

/* The speed, once a control period; gives whether it is a new one. */
static bool measure(struct drive *d, int32_t count)
{
    const struct numbers *n = &d->k->n;
    if (!n->loop_ms || ++d->loop_ms < n->loop_ms)
        return false;
    int32_t change = !d->k->tacho ? count - d->loop_count : d->back ? -(int32_t)d->turned : d->turned;
    d->rpm = (int16_t)(change * n->rpm_per_count / FINE);
    d->loop_count = count;
    d->loop_ms = 0;
    return true;
}

/* Whether pulses may come: relay coils change only after pulses were off, and pulses wait for the bounce. */
static bool coils_ready(struct drive *d, uint8_t action)
{
    uint16_t wait = d->k->n.coil_ms;
    uint8_t wanted = d->k->coils[action];
    d->quiet_ms = d->level_fine ? 0 : d->quiet_ms < wait ? d->quiet_ms + 1 : wait;
    d->settled_ms = d->settled_ms < wait ? d->settled_ms + 1 : wait;
    if (wanted != d->coils && d->quiet_ms >= wait) {
        d->coils = wanted;
        d->settled_ms = 0;
    }
    return wanted == d->coils && d->settled_ms >= wait;
}

static void ramp(struct drive *d, int32_t goal)
{
    int32_t left = goal - d->level_fine, step = d->k->n.ramp_step;
    d->level_fine += left > step ? step : left < -step ? -step : left;
}

static uint16_t applied(struct drive *d, uint8_t action, bool fresh)
{
    const struct numbers *n = &d->k->n;
    uint16_t level = (uint16_t)(d->level_fine / ONE);
    if (!level || !d->gain || d->open_loop)
        d->integral = d->bound = 0;
    if (!level)
        return 0;
    int32_t made = n->offset + (int32_t)((uint32_t)level * (uint16_t)(n->full - n->offset) / n->full);
    if (d->gain && !d->open_loop) {
        int32_t wants = (int32_t)((uint32_t)level * n->rpm_per_level / SPEED_FINE) - n->rpm_drop;
        int32_t error = (wants > 0 ? wants : 0) - (action == FORWARD ? d->rpm : -d->rpm), most = n->full * FINE;
        /* While the level is at its end the integral stands still, unless the error leads it away from there. */
        if (fresh && (!d->bound || (error < 0) == (d->bound > 0))) {
            d->integral += error * d->adds;
            d->integral = d->integral > most ? most : d->integral < -most ? -most : d->integral;
        }
        made += error * d->gain / FINE + d->integral / FINE;
        d->bound = (made > n->most) - (made < 0);
    }
    return made < 0 ? 0 : made > n->most ? n->most : (uint16_t)made;
}

/* The level that is wanted: on a move it may fall as its place comes near. */
static uint16_t near(struct drive *d, int32_t count)
{
    const struct numbers *n = &d->k->n;
    int32_t left = d->goal - count;
    if (d->has_goal && (!d->had_goal || d->goal != d->near))
        d->side = left > 0 ? 1 : -1;
    d->had_goal = d->has_goal;
    d->near = d->goal;
    if (!d->has_goal || !n->creep)
        return d->wanted;
    if ((d->side > 0 && left <= 0) || (d->side < 0 && left >= 0))
        d->side = 0;
    uint16_t made = d->side ? d->wanted : n->creep;
    if (d->side && labs(left) < n->slow_within) {
        made = (uint16_t)((uint32_t)d->wanted * (uint32_t)labs(left) / n->slow_within);
        made = made > n->creep ? made : n->creep;
    }
    return made < d->wanted ? made : d->wanted;
}

/* How far too much the current was, and for how long. Most readings fall between the pulses: the highest of the last
   HOLD_MS to twice that counts. */
static void sum_up(struct drive *d)
{
    if (d->sensed > d->peak)
        d->peak = d->sensed;
    int32_t held = d->peak > d->peak_before ? d->peak : d->peak_before, trip = d->k->n.trip;
    if (++d->peak_ms >= HOLD_MS) {
        d->peak_before = d->peak;
        d->peak = d->peak_ms = 0;
    }
    d->over += (held * held - trip * trip) / TRIP_FINE;
    if (d->over < 0)
        d->over = 0;
    if (d->over > d->k->n.trip_sum)
        d->over = d->k->n.trip_sum;
}

static void run(struct drive *d, struct inputs *in)
{
    const struct kind *k = d->k;
    int32_t count = count_of(d);
    bool fresh = measure(d, count);
    k->read(d, in);$by_hand
    d->at_front = in->limit_front;
    d->at_back = in->limit_back;
    d->touched = in->forward || in->back || in->run_forward || in->run_back || in->home;
    in->forward |= d->way > 0 || d->order > 0;
    in->back |= d->way < 0 || d->order < 0;
    in->locked = d->locked;
    in->home |= d->home;
    in->stop |= d->stop;
    uint16_t wanted = near(d, count);
    in->ahead = d->has_goal && d->goal - count > $window;
    in->behind = d->has_goal && count - d->goal > $window;
    if (k->n.trip)
        sum_up(d);
    in->over = k->n.trip && d->over >= k->n.trip_sum;
    in->end_front = k->ends && count >= k->n.end_front;
    in->end_back = k->ends && count <= k->n.end_back;
    in->still = d->level_fine == 0;
    in->rested = d->rest_ms >= k->n.pause_ms;
    in->stuck = k->watches && d->still_ms >= k->n.watch_ms;
    d->mode = k->next(d, in);
    d->home = false;

    uint8_t action = k->actions[d->mode], target = k->targets[d->mode];
    bool driving = action == FORWARD || action == BACK;
    if (driving)
        d->back = action == BACK;
    if (driving && k->encoder && k->encoder->way)
        k->encoder->way = action == FORWARD ? 1 : -1;
    d->rest_ms = driving ? 0 : d->rest_ms < k->n.pause_ms ? d->rest_ms + 1 : d->rest_ms;
    bool ready = !k->n.coil_ms || coils_ready(d, action);
    if (target == CUT || !ready)
        d->level_fine = 0;
    else
        ramp(d, (target == WANTED ? wanted : target != SLOW ? 0 : k->n.home ? k->n.home : d->wanted) * ONE);
    if (!driving)
        d->integral = d->bound = 0;
    d->level = driving ? applied(d, action, fresh) : 0;
    if (d->level >= k->n.watch_from && count == d->last_count)
        d->still_ms += d->still_ms < 60000;
    else
        d->still_ms = 0;
    d->last_count = count;
    k->write(d, action, d->level);
    if (k->lamps)
        k->lamps(d, in);
}

/* As power comes: nothing homed, nothing driven. */
static void rest_at_start(struct drive *d)
{
    d->mode = d->coils = 0;
    d->homed = false;
    d->level_fine = 0;
    d->level = d->rest_ms = d->quiet_ms = d->settled_ms = d->still_ms = 0;
    d->peak = d->peak_before = d->peak_ms = 0;
    d->over = d->integral = 0;
    d->bound = 0;
}

/* Proving: everything off, inputs read. */
static void prove(struct drive *d)
{
    struct inputs in = {0};
    rest_at_start(d);
    d->k->read(d, &in);
    d->k->write(d, OFF, 0);
    if (d->k->lamps)
        d->k->lamps(d, 0);
}
"""
