<p>Amber Kite</p>
