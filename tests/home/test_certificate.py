"""The certificate of a house: made once, made anew when it must be."""

from datetime import timedelta

from tests.home.builders import NOW, HomeCase
from yellow_sill.home.certificate import addresses_of, certificate_for
from yellow_sill.serving import allowed_hosts


class Certificates(HomeCase):
    def test_it_is_kept_until_it_runs_out_or_an_address_is_not_in_it(self):
        self.home.folder.mkdir()
        first = certificate_for(self.home, ["192.168.1.5", "garage.local"], NOW)
        again = certificate_for(self.home, ["garage.local"], NOW + timedelta(700))
        self.assertEqual((first.new, again.new, again.fingerprint), (True, False, first.fingerprint))
        for addresses, days in ((["192.168.1.6"], 0), (["garage.local"], 800)):
            made = certificate_for(self.home, addresses, NOW + timedelta(days))
            self.assertTrue(made.new)
            self.assertNotEqual(made.fingerprint, first.fingerprint)
            first = certificate_for(self.home, ["192.168.1.5", "garage.local"], NOW)
        first.file.write_bytes(b"noise")
        self.assertTrue(certificate_for(self.home, ["garage.local"], NOW).new)
        self.assertEqual(first.key.stat().st_mode & 0o777, 0o600)

    def test_a_browser_may_use_what_it_listens_on_and_nothing_else(self):
        self.assertEqual(allowed_hosts("127.0.0.1"), ["localhost", "127.0.0.1", "[::1]"])
        self.assertEqual(allowed_hosts("192.168.1.5")[-1], "192.168.1.5")
        self.assertIn("[fe80::1]", allowed_hosts("fe80::1"))
        everywhere = addresses_of("0.0.0.0")  # noqa: S104 - asked for, not listened on
        self.assertIn("127.0.0.1", everywhere)
        self.assertNotIn("*", everywhere)
