"""What the C program does each millisecond and for ever, and what is the builder's own. Written as C."""

from __future__ import annotations

MAIN = """\
/* ---- all together ---- */

static void tick(void)
{
    char text[LONGEST];
    now_ms++;
    if (silent_ms < LINK_MS)
        silent_ms++;
    bool silent = silent_ms >= LINK_MS;$radio_tick
    if (!proving) {$plays
        play_on(silent);
    }
    for (struct drive *d = drives; d < drives + DRIVES; d++)
        d->locked = d->k->locked && d->k->locked();
    for (struct drive *d = drives; d < drives + DRIVES; d++) {
        struct inputs in = {0};
        if (silent) {
            d->way = 0;
            d->has_goal = false;
        }
        if (proving) {
            prove(d);
            continue;
        }
        in.clear = clear_asked;
        in.link_lost = silent;
        run(d, &in);
    }
    clear_asked = false;$servo_silent
    if (report_ms && now_ms % report_ms == 0)
        for (struct drive *d = drives; d < drives + DRIVES; d++) {
            char first[20];
            snprintf(first, sizeof first, "at %lu", (unsigned long)now_ms);
            say(state(text, sizeof text, first, d));
        }
    own_tick();
}

"""

FOREVER = """\
int main(void)
{
    MCUSR = 0;
    wdt_disable();
$setup
    own_start();
    clock_start();
    serial_start();
    wdt_enable(WDTO_250MS); /* a program that hangs starts again, with everything off */
    sei();
    for (;;) {
        listen();
        send_on();
        if (passed) {
            cli();
            passed--;
            sei();
            wdt_reset();
            tick();
        }
    }
}
"""

OWN = """\
/* yours: start, every millisecond, and commands of your own */
static void own_start(void)
{
}

static void own_tick(void)
{
}

static bool own_command(const char *word, char *reply, size_t size)
{
    (void)word, (void)reply, (void)size;
    return false; /* true: the reply is yours */
}
/* end of yours: start, every millisecond, and commands of your own */

"""
