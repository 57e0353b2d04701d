<p role="status">On to the newest …</p>
