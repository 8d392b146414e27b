<?php

declare(strict_types=1);

use Tests\Lane;

require dirname(__DIR__).'/vendor/autoload.php';

Lane::enter();
