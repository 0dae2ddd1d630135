package dasein.core.plate;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dasein.core.BadInput;
import org.junit.jupiter.api.Test;

/** SMPTE ST 12-1: two numbers are left out each minute but the tenth, 108 in an hour. */
class TimecodeTest {
    private static final Rate NTSC = new Rate(30000, 1001), FILM = new Rate(24, 1);

    @Test
    void dropFrameLeavesOutTwoNumbersAMinute() {
        assertThat(Timecode.parse("00:00:59;29", NTSC).plus(1)).hasToString("00:01:00;02");
        assertThat(Timecode.parse("00:09:59;29", NTSC).plus(1)).hasToString("00:10:00;00");
        assertThat(Timecode.parse("01:00:00;00", NTSC).frames()).isEqualTo(3600 * 30 - 108);
        assertThat(Timecode.parse("00:01:00;04", new Rate(60000, 1001)).frames())
                .isEqualTo(3600);
        assertThatThrownBy(() -> Timecode.parse("00:01:00;01", NTSC))
                .isInstanceOf(BadInput.class)
                .hasMessageContaining("leaves it out");
        assertThatThrownBy(() -> Timecode.parse("00:00:10;00", FILM)).isInstanceOf(BadInput.class);
    }

    @Test
    void everyFrameOfADayComesBack() {
        for (boolean drop : new boolean[] {true, false}) {
            for (long f = 0; f < 2_589_408; f += 997) {
                Timecode t = new Timecode(f, 30, drop);
                assertThat(Timecode.parse(t.toString(), NTSC)).isEqualTo(t);
            }
        }
        // 29.97 drop-frame keeps step with the clock: a day's numbers take a day within a tenth of a second.
        assertThat(Math.abs(2_589_408 / NTSC.perSecond() - 86_400)).isLessThan(0.1);
        assertThat(Timecode.parse("23:59:59:23", FILM).plus(1)).hasToString("00:00:00:00");
    }

    @Test
    void whatIsNoTimecodeIsSaid() {
        for (String s : new String[] {"1:2:3:4", "00:00:00:24", "00:61:00:00", "24:00:00:00", "noon"})
            assertThatThrownBy(() -> Timecode.parse(s, FILM)).as(s).isInstanceOf(BadInput.class);
    }
}
