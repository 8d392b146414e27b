<?php

declare(strict_types=1);

require_once __DIR__.'/PostRoom.php';
require_once __DIR__.'/CaughtMail.php';

return new StandIns\PostRoom\PostRoom(new StandIns\Notebook('post-room'));
